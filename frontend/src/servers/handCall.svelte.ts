/** A call by hand while it goes on: begun, and watched until it is over. */
import { api, ask, type EarlierCall, type CallByHand } from "../api/client";
import { watch } from "../api/watch";
import type { Json } from "../values/json";

export class HandCall {
  now = $state.raw<CallByHand | null>(null);
  earlier = $state.raw<EarlierCall[]>([]);
  fault = $state("");
  busy = $state(false);

  constructor(
    readonly server: string,
    readonly mode: string,
    readonly tool: string,
  ) {}

  async call(args: Record<string, Json>) {
    this.busy = true;
    this.fault = "";
    this.now = null;
    try {
      const body = { mode: this.mode, tool: this.tool, args: args as Record<string, unknown> };
      const begun = { path: { server: this.server } };
      this.now = await ask(api.POST("/api/servers/{server}/calls", { params: begun, body }));
      if (this.now.state === "running") await this.watchUntilOver(this.now.id);
    } catch (error) {
      this.fault = (error as Error).message;
    }
    this.busy = false;
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

  async cancel() {
    if (!this.now) return;
    const params = { path: { number: this.now.id } };
    try {
      this.now = await ask(api.POST("/api/calls/{number}/cancel", { params }));
    } catch (error) {
      this.fault = (error as Error).message;
    }
  }

  async answer(action: "accept" | "decline" | "cancel", content: Record<string, Json>) {
    if (!this.now) return;
    const params = { path: { number: this.now.id } };
    const body = { action, content: content as Record<string, unknown> };
    try {
      await ask(api.POST("/api/calls/{number}/answer", { params, body }));
    } catch (error) {
      this.fault = (error as Error).message;
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
