/** Whether Ferox answers. Everything that asks tells this; when it is back, places read again. */

class Connection {
  gone = $state(false);
  /** Counts up whenever what is shown may be old; all that is shown depends on it. */
  rounds = $state(0);

  answered() {
    if (!this.gone) return;
    this.gone = false;
    this.readAgain();
  }

  /** Everything that is shown is read again: Ferox is back, or files have moved. */
  readAgain() {
    this.rounds += 1;
  }

  lost() {
    this.gone = true;
  }
}

export const connection = new Connection();
