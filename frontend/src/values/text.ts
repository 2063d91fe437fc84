/** How numbers and moments are written. */

// Made once: to make it for each number is what takes the time of a drawing of thousands.
const numbers = new Intl.NumberFormat("en-GB");

/** A number with its thousands set apart. */
export const grouped = (number: number) => numbers.format(number);

/** Milliseconds below ten seconds, seconds from there on. */
export function duration(ms: number | null | undefined): string {
  if (ms === null || ms === undefined) return "–";
  if (ms < 10_000) return `${grouped(Math.round(ms))} ms`;
  return `${(ms / 1000).toFixed(1)} s`;
}

export function clockTime(seconds: number): string {
  return new Date(seconds * 1000).toLocaleTimeString("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
  });
}

export function day(seconds: number): string {
  return new Date(seconds * 1000).toLocaleDateString("en-GB", { day: "numeric", month: "short" });
}

/** A moment of RFC 3339 as a zone's people write it, with its day of the week. */
export function dayAndTime(moment: string, zone: string): string {
  try {
    return new Date(moment).toLocaleString("en-GB", {
      weekday: "long",
      day: "numeric",
      month: "long",
      year: "numeric",
      hour: "2-digit",
      minute: "2-digit",
      timeZone: zone,
    });
  } catch {
    return moment; // a zone that this browser does not know
  }
}

export function percent(share: number): string {
  return `${Math.round(share * 100)} %`;
}

/** Seconds up to a minute and a half, minutes up to an hour and a half, then hours. */
export function span(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  if (seconds < 5400) return `${Math.round(seconds / 60)} min`;
  return `${(seconds / 3600).toFixed(1)} h`;
}

export function left(seconds: number): string {
  return `about ${span(seconds)} left`;
}

/** A count with its noun: `1 tool`, `3 tools`. */
export function counted(count: number, noun: string, plural = `${noun}s`): string {
  return `${grouped(count)} ${count === 1 ? noun : plural}`;
}

/** A tool's short name. */
export function shortTool(address: string): string {
  return address.slice(address.indexOf("/") + 1);
}

export function serverOf(address: string): string {
  return address.slice(0, address.indexOf("/"));
}

const VERDICT_COLOURS: Record<string, string> = {
  pass: "text-holds",
  fail: "text-broke",
  error: "text-doubt",
};

/** The class that colours a verdict; none for a trial that has none yet. */
export const verdictColour = (verdict: string | null | undefined) =>
  VERDICT_COLOURS[verdict ?? ""] ?? "";
