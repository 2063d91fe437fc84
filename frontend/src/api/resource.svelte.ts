/** What a screen reads and does, with what is wrong: the one way for every place. */

import { connection } from "../frame/connection.svelte";

/** A value that is read from Ferox, and read again when what it depends on changes. */
export class Resource<T> {
  value = $state.raw<T | null>(null);
  /** Why the last reading failed; the value before it stays. */
  fault = $state("");
  reading = $state(false);
  private newest = 0;

  /** `request` begins a reading; null: there is nothing to read. What it uses before it waits
   * is what the value depends on. Made while a component is set up, and over with it. */
  constructor(private readonly request: () => Promise<T> | null) {
    $effect(() => {
      void connection.rounds;
      void this.read();
    });
  }

  /** Reads it again. */
  async read(): Promise<void> {
    const mine = ++this.newest;
    const asked = this.request();
    this.reading = asked !== null;
    if (asked === null) {
      this.value = null;
      this.fault = "";
      return;
    }
    // An answer that a newer question has overtaken says nothing of it.
    try {
      const value = await asked;
      if (mine !== this.newest) return;
      this.value = value;
      this.fault = "";
    } catch (error) {
      if (mine !== this.newest) return;
      this.fault = messageOf(error);
    }
    this.reading = false;
  }

  /** Shows what an act has answered, in place of what is being read. */
  put(value: T | null): void {
    this.newest += 1;
    this.value = value;
    this.fault = "";
    this.reading = false;
  }
}

/** What changes while somebody types, once it has rested: so that not every letter is asked for. */
export class Rested<T> {
  value = $state.raw<T | null>(null);

  /** Made while a component is set up. */
  constructor(changing: () => T, restMs: number) {
    $effect(() => {
      const now = changing();
      const resting = setTimeout(() => (this.value = now), restMs);
      return () => clearTimeout(resting);
    });
  }
}

/** What a person does, one at a time: whether it goes on, and why it failed. */
export class Action {
  busy = $state(false);
  fault = $state("");

  /** Does it; whether it went well. */
  async run(work: () => Promise<void>): Promise<boolean> {
    this.busy = true;
    this.fault = "";
    try {
      await work();
    } catch (error) {
      this.fault = messageOf(error);
    }
    this.busy = false;
    return !this.fault;
  }
}

export const messageOf = (error: unknown) =>
  error instanceof Error ? error.message : String(error);
