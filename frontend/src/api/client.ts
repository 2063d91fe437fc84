import createClient from "openapi-fetch";
import { connection } from "../frame/connection.svelte";
import type { components, paths } from "./schema";

type Shapes = components["schemas"];
export type AgentDetail = Shapes["AgentDetail"];
export type AgentLine = Shapes["AgentLine"];
export type Connection = Shapes["ConnectionTemplate"];
export type Held = Shapes["HeldShape"];
export type HoldRule = Shapes["HoldShape"];
export type HoldDecision = Shapes["HoldDecisionRequest"];
export type Overrides = Shapes["OverridesShape"];
export type Probe = Shapes["ProbeShape"];
export type Remark = Shapes["TrialRemark"];
export type Conversation = Shapes["ConversationShape"];
export type ConversationRequest = Shapes["ConversationRequest"];
export type ModelLine = Shapes["ModelLine"];
export type ModelList = Shapes["ModelList"];
export type ModelLook = Shapes["LookShape"];
export type ModelSource = Shapes["ModelSource"];
export type SecretLine = Shapes["SecretLine"];
export type Begun = Shapes["BegunWorkspace"];
export type Board = Shapes["BoardShape"];
export type Bringing = Shapes["BringingShape"];
export type Export = Shapes["ExportShape"];
export type ExportFormat = Export["format"];
export type Cell = Shapes["CellShape"];
export type Expected = Shapes["ExpectedShape"];
export type Ledger = Shapes["LedgerShape"];
export type LedgerEntry = Shapes["LedgerEntryShape"];
export type LedgerGroup = Shapes["LedgerGroupShape"];
export type Progress = Shapes["Progress"];
export type Run = Shapes["RunShape"];
export type RunRequest = Shapes["RunRequest"];
export type Server = Shapes["ServerShape"];
export type ToolDetail = Shapes["ToolShape"];
export type ToolPage = Shapes["ToolPage"];
export type WordingReport = Shapes["WordingShape"];
export type ServerLine = Shapes["ServerLine"];
export type CallPicture = Shapes["CallPicture"];
export type KnownTool = Shapes["KnownTool"];
export type PartPicture = Shapes["PartPicture"];
export type Picture = Shapes["PictureShape"];
export type SuiteFile = Shapes["SuiteFileShape"];
export type TaskPlace = Shapes["TaskPlace"];
export type RejudgedTrial = Shapes["RejudgedTrialShape"];
export type ReplyValue = Shapes["ValueShape"];
export type ResultLine = Shapes["ResultLine"];
export type Drift = Shapes["DriftShape"];
export type EarlierCall = Shapes["EarlierCall"];
export type MetricReport = Shapes["MetricReport"];
export type TaskReport = Shapes["TaskReport"];
export type ConfusionReport = Shapes["ConfusionReport"];
export type LookAlikesReport = Shapes["LookAlikesReport"];
export type Comparison = Shapes["ComparisonReport"];
export type ComparableRun = Shapes["ComparableRun"];
export type ArmsReport = Shapes["ArmsReport"];
export type ArmReport = Shapes["ArmReport"];
export type PlanFile = Shapes["PlanFileShape"];
export type PlanPreview = Shapes["PlanPreview"];
export type RewordBasis = Shapes["RewordBasis"];
export type SetupDifference = Shapes["SetupDifference"];
export type FoundThing = Shapes["FoundThing"];
export type MovedFile = Shapes["MovedFile"];
export type Estimate = Shapes["Estimate"];
export type Exchange = Shapes["ExchangeShape"];
export type ListChange = Shapes["ListChangeShape"];
export type Made = Shapes["MadeShape"];
export type Pasted = Shapes["PastedShape"];
export type RecordingLine = Shapes["RecordingLine"];
export type Recording = Shapes["RecordingShape"];
export type ModelRequest = Shapes["ModelRequestShape"];
export type Relay = Shapes["RelayShape"];
export type Setup = Shapes["SetupShape"];
export type ShownTool = Shapes["ShownToolShape"];
export type CallByHand = Shapes["CallByHandShape"];
export type TrialLine = Shapes["TrialLine"];
export type Workspace = Shapes["WorkspaceShape"];

export const api = createClient<paths>({ baseUrl: "/" });

/** The answer's data, or an error that says what went wrong in the server's own words. */
export async function ask<T>(answer: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  let given: { data?: T; error?: unknown };
  try {
    given = await answer;
  } catch {
    connection.lost();
    throw new Error("Ferox does not answer. Is `ferox serve` still running?");
  }
  connection.answered();
  if (given.data !== undefined) return given.data;
  const refusal = given.error as { message?: string } | undefined;
  throw new Error(refusal?.message ?? "Ferox answered with an error it did not explain.");
}
