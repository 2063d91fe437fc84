/** What an agent is offered: tools by server. A choice by hand is remembered for each agent. */

import type { AgentDetail } from "../api/client";

export type Offer = Record<string, "all" | string[]>;
type Offered = AgentDetail["servers"][number];

const key = (workspace: string, agent: string) => `ferox-offer ${workspace} ${agent}`;

/** The choice of last time; null: as its file says. */
export function rememberedOffer(workspace: string, agent: string): Offer | null {
  try {
    return JSON.parse(localStorage.getItem(key(workspace, agent)) ?? "null") as Offer | null;
  } catch {
    return null;
  }
}

export function rememberOffer(workspace: string, agent: string, offer: Offer | null) {
  if (offer === null) localStorage.removeItem(key(workspace, agent));
  else localStorage.setItem(key(workspace, agent), JSON.stringify(offer));
}

/** The tools of a server that a choice leaves, of those that are known. */
export function ticked(server: Offered, offer: Offer | null): string[] {
  const chosen = offer?.[server.server];
  const known = [...server.tools, ...server.left_out];
  if (offer === null) return server.tools;
  if (chosen === "all") return known;
  return known.filter((tool) => chosen?.includes(tool));
}

/** Whether anything of a server is offered, also where its tools are not known yet. */
export function isOffered(server: Offered, offer: Offer | null): boolean {
  if (offer !== null) return (offer[server.server]?.length ?? 0) > 0;
  return server.tools.length > 0 || server.unknown;
}

/** What the file says, as a choice to change. */
export function ofFile(servers: Offered[]): Offer {
  return Object.fromEntries(
    servers
      .filter((s) => isOffered(s, null))
      .map((s) => [s.server, s.unknown || !s.left_out.length ? "all" : s.tools]),
  );
}

/** A choice with a server's tools ticked as these are. */
export function withTools(
  servers: Offered[],
  offer: Offer | null,
  of: Offered,
  tools: string[],
): Offer {
  const others = withServer(servers, offer, of, false);
  const known = of.tools.length + of.left_out.length;
  if (!tools.length) return others;
  return { ...others, [of.server]: tools.length === known ? "all" : tools };
}

/** A choice with a whole server ticked or not. */
export function withServer(
  servers: Offered[],
  offer: Offer | null,
  of: Offered,
  on: boolean,
): Offer {
  const now = Object.entries(offer ?? ofFile(servers)).filter(([s]) => s !== of.server);
  return Object.fromEntries(on ? [...now, [of.server, "all"]] : now) as Offer;
}
