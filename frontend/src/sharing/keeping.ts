/** Texts and files that a browser keeps. */

/** Have the browser keep a text as a file. */
export function keepText(name: string, text: string) {
  const url = URL.createObjectURL(new Blob([text], { type: "application/octet-stream" }));
  follow(url, name);
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}

/** Have the browser fetch and keep a file of Ferox's. */
export function keepFile(url: string, name: string) {
  follow(url, name);
}

function follow(url: string, name: string) {
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
}
