/** A model as a form shows it, and as its file holds it. */

import type { ModelLine, ModelSource } from "../api/client";

export interface ModelForm {
  name: string;
  kind: ModelLine["kind"];
  standIn: string;
  manner: string;
  recording: string;
  goesOn: boolean;
  url: string;
  model: string;
  secret: string;
  key: string;
  perMinute: string;
  sent: string;
  kept: string;
  answered: string;
  currency: string;
}

export const EMPTY: ModelForm = {
  name: "",
  kind: "endpoint",
  standIn: "",
  manner: "steady",
  recording: "",
  goesOn: false,
  url: "",
  model: "",
  secret: "",
  key: "",
  perMinute: "",
  sent: "",
  kept: "",
  answered: "",
  currency: "USD",
};

const words = (n: number | null | undefined) => (n == null ? "" : String(n));
const number = (typed: string) => (typed === "" ? undefined : Number(typed));

export function formOf(line: ModelLine): ModelForm {
  const { source } = line;
  const secret = source.api_key && typeof source.api_key === "object" ? source.api_key.secret : "";
  return {
    ...EMPTY,
    name: line.name,
    kind: line.kind,
    standIn: source.stand_in ?? "",
    manner: source.manner ?? "steady",
    recording: source.recording ?? "",
    goesOn: source.miss === "live",
    url: source.base_url ?? "",
    model: source.name ?? "",
    secret,
    perMinute: words(source.per_minute),
    // Prices are shown for a million tokens, whatever number the file has them for.
    sent: words(perMillion(source.price?.in, source)),
    kept: words(perMillion(source.price?.cached_in, source)),
    answered: words(perMillion(source.price?.out, source)),
    currency: source.price?.currency ?? "USD",
  };
}

function perMillion(price: number | null | undefined, source: ModelSource) {
  return price == null ? null : (price * 1_000_000) / (source.price?.per ?? 1_000_000);
}

/** What is sent of an endpoint: its address, its own name of the model, its key and its pace. */
function endpointOf(form: ModelForm): Partial<ModelSource> {
  return {
    base_url: form.url.trim(),
    ...(form.model.trim() ? { name: form.model.trim() } : {}),
    ...(form.secret.trim() ? { api_key: { secret: form.secret.trim(), prefix: "" } } : {}),
    ...(form.perMinute ? { per_minute: Number(form.perMinute) } : {}),
  };
}

export function sourceOf(form: ModelForm): ModelSource {
  if (form.kind === "stand-in")
    return { stand_in: form.standIn, manner: form.manner } as ModelSource;
  const priced =
    form.sent === "" && form.answered === ""
      ? {}
      : {
          price: {
            in: number(form.sent) ?? 0,
            ...(form.kept === "" ? {} : { cached_in: number(form.kept) }),
            out: number(form.answered) ?? 0,
            currency: form.currency || "USD",
          },
        };
  if (form.kind === "recording")
    return {
      recording: form.recording,
      ...(form.goesOn ? { miss: "live", ...endpointOf(form), ...priced } : {}),
    } as ModelSource;
  return { ...endpointOf(form), ...priced } as ModelSource;
}

/** A secret's name for a model's key, such as `TERN_KEY`. */
export function secretFor(name: string): string {
  const stem = name.replace(/[^A-Za-z0-9]+/g, "_").toUpperCase();
  return `${/^[A-Z_]/.test(stem) ? "" : "M_"}${stem || "MODEL"}_KEY`;
}
