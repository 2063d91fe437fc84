/** What somebody has typed and not yet used: it outlives places, Back, reload and a lost server. */

const PREFIX = "typed ";

function stored(key: string): object {
  try {
    return JSON.parse(sessionStorage.getItem(PREFIX + key) ?? "{}") as object;
  } catch {
    return {};
  }
}

/** Fields of a form, kept in the tab under a key until they are cleared. */
export class Typed<Fields extends object> {
  fields: Fields = $state() as Fields;

  /** Made while a component is set up; `empty` is what stands there at first. */
  constructor(
    private readonly key: string,
    private readonly empty: Fields,
  ) {
    this.fields = { ...empty, ...stored(key) };
    $effect(() => {
      const text = JSON.stringify(this.fields);
      // Where nothing was typed, what stands there at first may change.
      if (text === JSON.stringify(this.empty)) sessionStorage.removeItem(PREFIX + this.key);
      else sessionStorage.setItem(PREFIX + this.key, text);
    });
  }

  /** What was typed has been used. */
  clear(): void {
    sessionStorage.removeItem(PREFIX + this.key);
    this.fields = { ...this.empty };
  }
}
