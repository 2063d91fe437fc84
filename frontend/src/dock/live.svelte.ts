/** The run that goes on: one stream of server-sent events, shared by all screens. */

import { api, ask, type Cell, type Progress, type Run } from "../api/client";

export type LiveCall = {
  trial: number;
  agent: string;
  tool: string;
  s: number | null;
  failed: boolean;
};

class Live {
  run = $state<Run | null>(null);
  calls = $state<LiveCall[]>([]);
  lost = $state(false);
  private source: EventSource | null = null;
  private listeners = new Set<(run: Run, cells: Cell[]) => void>();

  /** Hears of changed cells until the returned function is called. */
  hear(listener: (run: Run, cells: Cell[]) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  get going(): boolean {
    return this.run?.state === "running" || this.run?.state === "waiting";
  }

  watch(run: Run) {
    this.source?.close();
    this.run = run;
    this.calls = [];
    this.lost = false;
    if (run.state !== "running" && run.state !== "waiting") return;
    const source = new EventSource(`/api/runs/${run.id}/stream`);
    this.source = source;
    source.addEventListener("progress", (event) => {
      const told = JSON.parse((event as MessageEvent<string>).data) as Progress;
      this.lost = false;
      this.run = told.run;
      this.calls = told.calls as LiveCall[];
      for (const listener of this.listeners) listener(told.run, told.cells);
    });
    source.addEventListener("over", () => source.close());
    source.onerror = () => (this.lost = true);
  }

  async stop() {
    if (!this.run) return;
    this.run = await ask(
      api.POST("/api/runs/{run}/stop", { params: { path: { run: this.run.id } } }),
    );
  }

  async resume(run: Run) {
    this.watch(
      await ask(api.POST("/api/runs/{run}/resume", { params: { path: { run: run.id } } })),
    );
  }
}

export const live = new Live();
