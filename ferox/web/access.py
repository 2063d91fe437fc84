"""Who may call the web application, and from where.

Without a token it serves this machine only. With one it serves others too: whoever gives it gets
a cookie that scripts cannot read. In both cases no other site's pages may call it.
"""

from __future__ import annotations

import hashlib
import hmac
import ipaddress
import threading
import time
from collections import deque
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple
from urllib.parse import urlsplit

LOOPBACK = ("127.0.0.1", "localhost", "::1")
COOKIE = "ferox_access"
ENTER = "/enter"
"""Where the token is sent."""
READING = frozenset({"GET", "HEAD", "OPTIONS"})
MOST_WRONG, WITHIN_S = 5, 60.0
"""Wrong tokens that one address may try in so many seconds."""


class Refusal(NamedTuple):
    """Why a request is not answered: an HTTP status, and words."""

    status: int
    message: str


@dataclass
class Access:
    """The rules of one server. `public_url` is its address behind a proxy, such as
    `https://desk.example`; `look_token` lets somebody in who may only look."""

    token: str | None = None
    look_token: str | None = None
    public_url: str | None = None
    _wrong: dict[str, deque[float]] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def refusal(
        self, method: str, host: str, headers: Mapping[str, str], cookie: str | None
    ) -> Refusal | None:
        """Why a request is refused; None if it is not. `host` is that of its Host header."""
        site = self._site_refusal(method, host, headers)
        if site is not None:
            return site
        if self.token is None:
            return None
        role = self._cookie_role(cookie)
        if role is None:
            return Refusal(401, "enter the token that `ferox serve` printed")
        if role == "look" and method not in READING:
            return Refusal(403, "this link only looks: it changes and starts nothing")
        return None

    def _site_refusal(self, method: str, host: str, headers: Mapping[str, str]) -> Refusal | None:
        """Whether another name or another site's page is behind a request."""
        # A page of another site may give its own name this machine's address (DNS rebinding); the
        # Host header then still says the other name.
        name = _hostname(host)
        if self.token is None and name not in LOOPBACK:
            return Refusal(403, "this host name is not served")
        if self.token is not None and not self._is_served(name):
            return Refusal(403, "this host name is not served; name it by `--url`")
        origin = headers.get("Origin")
        if origin is not None and origin != self._own_origin(host):
            return Refusal(403, "no other site may call this")
        fetched = headers.get("Sec-Fetch-Site")
        opened = headers.get("Sec-Fetch-Mode") == "navigate" and method == "GET"
        if fetched == "cross-site" and not opened:  # a link from elsewhere may be followed
            return Refusal(403, "no other site may call this")
        return None

    def _is_served(self, name: str | None) -> bool:
        """Whether a name is the server's own: an address, this machine, or that of `--url`."""
        if self.public_url and name == urlsplit(self.public_url).hostname:
            return True
        try:
            ipaddress.ip_address(name or "")
        except ValueError:
            return name in LOOPBACK
        return True

    def _own_origin(self, host: str) -> str:
        return self.public_url.rstrip("/") if self.public_url else f"http://{host}"

    @property
    def is_secure(self) -> bool:
        """Whether browsers reach it by https, so that the cookie is kept to that."""
        return (self.public_url or "").startswith("https:")

    def _cookie_role(self, cookie: str | None) -> str | None:
        for role, token in (("work", self.token), ("look", self.look_token)):
            if token and cookie and hmac.compare_digest(cookie, _pass_of(token)):
                return role
        return None

    def enter_by_token(self, token: str, address: str) -> str | Refusal:
        """The cookie for a token, or why there is none. `address` is who tries."""
        now = time.monotonic()
        with self._lock:
            # The oldest of the last few wrong tries tells whether there were too many in a minute.
            wrong = self._wrong.setdefault(address, deque(maxlen=MOST_WRONG))
            if len(wrong) == MOST_WRONG and now - wrong[0] < WITHIN_S:
                return Refusal(429, "too many wrong tokens: wait a minute")
            for known in (self.token, self.look_token):
                if known and hmac.compare_digest(token.encode(), known.encode()):
                    del self._wrong[address]
                    return _pass_of(known)
            wrong.append(now)
            # Many addresses must not fill the memory; the first in is the first to be forgotten.
            if len(self._wrong) > 1000:
                self._wrong.pop(next(iter(self._wrong)))
        return Refusal(401, "this is not the token")


def _hostname(host: str) -> str | None:
    try:
        return urlsplit(f"//{host}").hostname
    except ValueError:
        return None


def _pass_of(token: str) -> str:
    """What the cookie holds in place of the token itself."""
    return hashlib.sha256(f"ferox {token}".encode()).hexdigest()
