/** What was just done and can be undone: said in one place, until it is dismissed. */

class Undo {
  message = $state("");
  private undo: (() => Promise<void>) | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly LASTS_MS = 30_000;

  offer(message: string, undo: () => Promise<void>) {
    clearTimeout(this.timer);
    this.message = message;
    this.undo = undo;
    this.timer = setTimeout(() => this.dismiss(), this.LASTS_MS);
  }

  /** Undoes it; what goes wrong is told by whoever calls. */
  async take() {
    const undo = this.undo;
    this.dismiss();
    await undo?.();
  }

  dismiss() {
    clearTimeout(this.timer);
    this.message = "";
    this.undo = null;
  }
}

export const undo = new Undo();
