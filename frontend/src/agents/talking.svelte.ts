/** A conversation by hand, watched while it goes on. It outlives the panel that shows it. */
import { api, ask, type HoldRule, type Let, type Overrides, type Talk } from "../api/client";
import { watch } from "../api/watch";
import type { Json } from "../values/json";

class Talking {
  talks = $state.raw<Record<string, Talk>>({});
  fault = $state("");
  private watched = new Set<string>();

  /** Finds the conversations that went on before the page was loaded. */
  async find() {
    try {
      for (const talk of (await ask(api.GET("/api/talks"))).talks) this.take(talk);
    } catch {
      // Whoever begins one will be told.
    }
  }

  private take(talk: Talk) {
    const before = this.talks[talk.agent];
    if (before?.id === talk.id && before.version > talk.version) return;
    this.talks = { ...this.talks, [talk.agent]: talk };
    if (!talk.over && !this.watched.has(talk.id)) this.watch(talk);
  }

  private watch(talk: Talk) {
    this.watched.add(talk.id);
    const end = watch<Talk>("conversations", talk.id, {
      change: (now) => {
        this.fault = "";
        this.take(now);
        if (this.talks[now.agent]?.id !== now.id) {
          end();
          this.watched.delete(now.id);
        }
      },
      over: () => this.watched.delete(talk.id),
      lost: (gone) => {
        this.fault = gone
          ? "This conversation is no longer known; start another."
          : "Ferox does not answer. Is `ferox serve` still running?";
        if (gone) this.watched.delete(talk.id);
      },
    });
  }

  async begin(agent: string, overrides: Overrides, hold: HoldRule | null) {
    const params = { path: { agent } };
    this.fault = "";
    try {
      this.take(
        await ask(api.POST("/api/agents/{agent}/talks", { params, body: { overrides, hold } })),
      );
    } catch (error) {
      this.fault = (error as Error).message;
    }
  }

  private async give(answer: Promise<{ data?: Talk; error?: unknown }>) {
    try {
      this.take(await ask(answer));
      this.fault = "";
    } catch (error) {
      this.fault = (error as Error).message;
    }
  }

  say(talk: Talk, text: string) {
    const params = { path: { number: talk.id } };
    return this.give(api.POST("/api/talks/{number}/say", { params, body: { text } }));
  }

  decide(talk: Talk, approved: boolean, args: Record<string, unknown> | null) {
    const params = { path: { number: talk.id } };
    return this.give(api.POST("/api/talks/{number}/decide", { params, body: { approved, args } }));
  }

  answer(talk: Talk, action: "accept" | "decline" | "cancel", content: Record<string, Json>) {
    const params = { path: { number: talk.id } };
    const body = { action, content };
    return this.give(api.POST("/api/talks/{number}/answer", { params, body }));
  }

  letGo(talk: Talk, body: Let) {
    const params = { path: { number: talk.id } };
    return this.give(api.POST("/api/talks/{number}/let", { params, body }));
  }

  hold(talk: Talk, hold: HoldRule | null) {
    const params = { path: { number: talk.id } };
    return this.give(api.POST("/api/talks/{number}/hold", { params, body: { hold } }));
  }

  end(talk: Talk) {
    const params = { path: { number: talk.id } };
    return this.give(api.POST("/api/talks/{number}/end", { params }));
  }
}

export const talking = new Talking();
