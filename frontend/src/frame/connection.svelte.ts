/** Whether Ferox answers. Everything that asks tells this; when it is back, places read again. */

class Connection {
  gone = $state(false);
  /** How often it came back; what a place shows depends on it, and so is read again. */
  returns = $state(0);

  answered() {
    if (!this.gone) return;
    this.gone = false;
    this.returns += 1;
  }

  lost() {
    this.gone = true;
  }
}

export const connection = new Connection();
