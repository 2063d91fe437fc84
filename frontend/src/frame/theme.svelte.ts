/** Light or dark: as the system says until somebody chooses. */

const KEY = "ferox-theme";

class Theme {
  dark = $state(false);

  constructor() {
    const kept = localStorage.getItem(KEY);
    this.dark = kept ? kept === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
    this.apply();
  }

  private apply() {
    document.documentElement.dataset["theme"] = this.dark ? "dark" : "light";
  }

  turn() {
    this.dark = !this.dark;
    localStorage.setItem(KEY, this.dark ? "dark" : "light");
    this.apply();
  }
}

export const theme = new Theme();
