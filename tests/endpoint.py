"""A chat-completions endpoint that gives prepared answers and keeps what it was asked."""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, HTTPServer
from typing import Any


@contextmanager
def endpoint(answers: list[Any]) -> Iterator[tuple[str, list[Any]]]:
    """Its base address and the bodies asked so far. An answer is a message or a status."""
    asked: list[Any] = []

    class Handler(BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            asked.append(json.loads(self.rfile.read(int(self.headers["Content-Length"]))))
            answer = answers[min(len(asked), len(answers)) - 1]
            status = answer if isinstance(answer, int) else 200
            body = json.dumps({"choices": [{"message": answer}]}).encode()
            self.send_response(status)
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

        def log_message(self, *args: Any) -> None:
            return None

    server = HTTPServer(("127.0.0.1", 0), Handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_port}/v1", asked
    finally:
        server.shutdown()
        server.server_close()
