/** The run that goes on: one stream of server-sent events, shared by all screens. */

import {
  api,
  ask,
  type Cell,
  type Held,
  type HoldRule,
  type HoldDecision,
  type Progress,
  type Run,
} from "../api/client";
import { watch } from "../api/watch";

export type LiveCall = {
  trial: number;
  agent: string;
  tool: string;
  s: number | null;
  failed: boolean;
};

/** So often that a screen says within two seconds that Ferox is gone. */
const LOOK_MS = 1500;

/** Whether a run has not ended yet. */
export function isGoing(run: Run | null | undefined): boolean {
  return run?.state === "running" || run?.state === "waiting";
}

/** A run's state in words. */
export function stateTold(run: Run): string {
  return run.state === "waiting" ? "starting" : run.state;
}

class Live {
  run = $state<Run | null>(null);
  calls = $state<LiveCall[]>([]);
  held = $state.raw<Held[]>([]);
  lost = $state(false);
  private unwatch = () => {};
  private listeners = new Set<(run: Run, cells: Cell[]) => void>();

  /** Hears of changed cells until the returned function is called. */
  hear(listener: (run: Run, cells: Cell[]) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  get going(): boolean {
    return isGoing(this.run);
  }

  /** Looks again and again for a run that goes on, whoever started it; the returned function
   * ends that. */
  follow(): () => void {
    const look = async () => {
      if (this.going || document.hidden) return; // the stream of a run tells by itself
      try {
        const [newest] = (await ask(api.GET("/api/going"))).runs;
        if (newest && !this.going) this.watch(newest);
      } catch {
        // Ferox does not answer now, which the frame says; the next look may find it.
      }
    };
    void look();
    const timer = setInterval(look, LOOK_MS);
    return () => clearInterval(timer);
  }

  watch(run: Run) {
    this.unwatch();
    this.run = run;
    this.calls = [];
    this.held = [];
    this.lost = false;
    if (!isGoing(run)) return;
    this.unwatch = watch<Progress>("runs", run.id, {
      change: (progress) => {
        this.lost = false;
        this.run = progress.run;
        this.calls = progress.calls as LiveCall[];
        if (JSON.stringify(progress.held) !== JSON.stringify(this.held)) this.held = progress.held;
        for (const listener of this.listeners) listener(progress.run, progress.cells);
      },
      lost: () => (this.lost = true),
    });
  }

  async stop() {
    if (!this.run) return;
    this.run = await ask(
      api.POST("/api/runs/{run}/stop", { params: { path: { run: this.run.id } } }),
    );
  }

  /** Says which calls are held from now on. */
  async hold(hold: HoldRule | null) {
    if (!this.run) return;
    const params = { path: { run: this.run.id } };
    this.run = await ask(api.POST("/api/runs/{run}/hold", { params, body: { hold } }));
  }

  /** Lets a held call go. */
  async decideHeld(held: Held, body: HoldDecision) {
    const params = { path: { held: held.id } };
    this.held = (await ask(api.POST("/api/held/{held}", { params, body }))).held;
  }

  async resume(run: Run) {
    this.watch(
      await ask(api.POST("/api/runs/{run}/resume", { params: { path: { run: run.id } } })),
    );
  }
}

export const live = new Live();
