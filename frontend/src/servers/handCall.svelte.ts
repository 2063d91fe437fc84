/** A call by hand while it goes on: begun, and watched until it is over. */
import { api, ask, type EarlierCall, type CallByHand } from "../api/client";
import { Action, messageOf } from "../api/resource.svelte";
import { watch } from "../api/watch";
import type { Json } from "../values/json";

export class HandCall {
  now = $state.raw<CallByHand | null>(null);
  earlier = $state.raw<EarlierCall[]>([]);
  readonly act = new Action();

  constructor(
    readonly server: string,
    readonly mode: string,
    readonly tool: string,
  ) {}

  async call(args: Record<string, Json>) {
    this.now = null;
    await this.act.run(async () => {
      const body = { mode: this.mode, tool: this.tool, args: args as Record<string, unknown> };
      const params = { path: { server: this.server } };
      this.now = await ask(api.POST("/api/servers/{server}/calls", { params, body }));
      if (this.now.state === "running") await this.watchUntilOver(this.now.id);
    });
    await this.recall();
  }

  private watchUntilOver(number: string): Promise<void> {
    return new Promise((over, failed) =>
      watch<CallByHand>("calls", number, {
        change: (now) => (this.now = now),
        over,
        lost: (gone) => {
          if (gone) failed(new Error("This call is no longer known; call the tool again."));
        },
      }),
    );
  }

  // What is done to a call that goes on stands beside it: the call itself is busy meanwhile.
  async cancel() {
    if (!this.now) return;
    const params = { path: { number: this.now.id } };
    try {
      this.now = await ask(api.POST("/api/calls/{number}/cancel", { params }));
    } catch (error) {
      this.act.fault = messageOf(error);
    }
  }

  async answer(action: "accept" | "decline" | "cancel", content: Record<string, Json>) {
    if (!this.now) return;
    const params = { path: { number: this.now.id } };
    const body = { action, content: content as Record<string, unknown> };
    try {
      await ask(api.POST("/api/calls/{number}/answer", { params, body }));
    } catch (error) {
      this.act.fault = messageOf(error);
    }
  }

  /** The tool's earlier calls, as far as they are kept. */
  async recall() {
    try {
      const params = { path: { server: this.server }, query: { tool: this.tool } };
      this.earlier = (await ask(api.GET("/api/servers/{server}/calls", { params }))).calls;
    } catch {
      this.earlier = [];
    }
  }
}
