"""Entering with a token: a page that asks for it, and the cookie that stands for it."""

from __future__ import annotations

from flask import Response, request

from ferox.web.access import COOKIE, Access, Refusal

KEPT_S = 30 * 86400
_PAGE = """<!doctype html>
<html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Ferox</title>
<style>
 body {{ font: 15px/1.5 sans-serif; margin: 0; display: grid; min-height: 100vh;
        place-items: center; background: #eceff0; color: #1b2429; }}
 form {{ display: grid; gap: 10px; width: 320px; }}
 input, button {{ font: inherit; padding: 6px 10px; border: 1px solid #56646c;
                 border-radius: 4px; }}
 button {{ background: #1f6a5d; color: #fff; border-color: #1f6a5d; }}
 p, h1 {{ margin: 0; font-size: 18px; }} .broke {{ color: #8a1f2d; }}
 @media (prefers-color-scheme: dark) {{
  body {{ background: #12171a; color: #e3e9eb; }} .broke {{ color: #ee8a91; }}
  input {{ background: #1f282d; color: inherit; }}
 }}
</style>
<form method="post" action="/enter">
 <h1>Ferox</h1>
 <label for="token">The token that <code>ferox serve</code> printed</label>
 <input id="token" name="token" type="password" autocomplete="current-password" required autofocus>
 <button>Enter</button>
 {wrong}
</form></html>
"""


def enter_page(status: int, wrong: str = "") -> Response:
    """The page that asks for the token; `wrong` is what was wrong with the last."""
    said = f'<p class="broke" role="alert">{wrong}</p>' if wrong else ""
    return Response(_PAGE.format(wrong=said), status, mimetype="text/html")


def token_answer(access: Access, token: str) -> Response:
    """The answer to a token."""
    given = access.enter_by_token(token, str(request.remote_addr))
    if isinstance(given, Refusal):
        answer = enter_page(given.status, given.message)
        if given.status == 429:
            answer.headers["Retry-After"] = "60"
        return answer
    # The cookie holds a hash, so that whoever reads it cannot pass the token on.
    answer = Response("", 303, {"Location": "/"})
    answer.set_cookie(
        COOKIE, given, max_age=KEPT_S, httponly=True, samesite="Lax", secure=access.is_secure
    )
    return answer
