/** Files sent in pieces, for one may be larger than a request. */

import { api, ask, type Bringing } from "../api/client";

const PIECE_BYTES = 400_000;

/** Send a file of traces; what it is known by. `stopped` is asked between pieces. */
export async function sendFile(
  file: File,
  onpiece: (sent: number) => void,
  stopped: () => boolean,
): Promise<Bringing> {
  let sent = await ask(api.POST("/api/bringings", { body: { name: file.name.slice(0, 200) } }));
  const params = { path: { number: sent.id } };
  const decoder = new TextDecoder();
  for (let at = 0; at < file.size && !stopped(); at += PIECE_BYTES) {
    const bytes = await file.slice(at, at + PIECE_BYTES).arrayBuffer();
    const text = decoder.decode(bytes, { stream: at + PIECE_BYTES < file.size });
    sent = await ask(api.POST("/api/bringings/{number}/pieces", { params, body: { text } }));
    onpiece(Math.min(file.size, at + PIECE_BYTES));
  }
  return sent;
}
