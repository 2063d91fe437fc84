/** What somebody has typed and not yet used: it outlives places, Back, reload and a lost server. */

const PREFIX = "typed ";
/** What may hold a credential is never written to the browser's own store. */
const inMemory: Record<string, string | undefined> = {};

interface Options {
  /** It is kept in this page's memory only, and is gone with a reload. */
  secret?: boolean;
}

/** Fields of a form, kept under a key until they are cleared. */
export class Typed<Fields extends object> {
  fields: Fields = $state() as Fields;

  /** Made while a component is set up; `empty` is what stands there at first. */
  constructor(
    private readonly key: string,
    private empty: Fields,
    private readonly options: Options = {},
  ) {
    this.fields = { ...empty, ...this.kept() };
    $effect(() => {
      const text = JSON.stringify(this.fields);
      // Where nothing was typed, what stands there at first may change.
      if (text === JSON.stringify(this.empty)) this.forget();
      else if (this.options.secret) inMemory[this.key] = text;
      else sessionStorage.setItem(PREFIX + this.key, text);
    });
  }

  /** What was typed has been used; what stands there now is where it begins again. */
  clear(empty: Fields = this.empty): void {
    this.empty = empty;
    this.forget();
    this.fields = { ...empty };
  }

  private forget(): void {
    inMemory[this.key] = undefined;
    sessionStorage.removeItem(PREFIX + this.key);
  }

  private kept(): Partial<Fields> {
    const text = inMemory[this.key] ?? sessionStorage.getItem(PREFIX + this.key);
    try {
      return JSON.parse(text ?? "{}") as Partial<Fields>;
    } catch {
      return {};
    }
  }
}
