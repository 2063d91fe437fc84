/** The address of what is shown. Everything has one; Back works. */

class Address {
  path = $state(location.pathname);
  query = $state(new URLSearchParams(location.search));

  constructor() {
    addEventListener("popstate", () => this.read());
  }

  private read() {
    this.path = location.pathname;
    this.query = new URLSearchParams(location.search);
  }

  go(to: string) {
    if (to === location.pathname + location.search) return;
    history.pushState(null, "", to);
    this.read();
  }

  /** Changes one part of the query without a step in the history. */
  mark(key: string, value: string | null) {
    const url = new URL(location.href);
    if (value === null) url.searchParams.delete(key);
    else url.searchParams.set(key, value);
    history.replaceState(null, "", url.pathname + url.search);
    this.read();
  }
}

export const address = new Address();

/** Follows a link inside the application without loading the page again. */
export function follow(event: MouseEvent) {
  const link = (event.target as Element | null)?.closest("a");
  if (!link || event.defaultPrevented || event.button !== 0) return;
  if (event.metaKey || event.ctrlKey || event.shiftKey || event.altKey) return;
  if (link.origin !== location.origin || link.target) return;
  event.preventDefault();
  address.go(link.pathname + link.search);
}
