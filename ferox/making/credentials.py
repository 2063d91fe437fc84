"""Credentials in pasted words, recognised by the names they stand under and by their own forms."""

from __future__ import annotations

import re
from urllib.parse import SplitResult, parse_qsl, urlencode, urlsplit, urlunsplit

from ferox.core.masking import says_secret

_FORMS = re.compile(
    r"(?:sk|pk|rk|ghp|gho|ghs|ghu|glpat|xox[abprs]|npm|pypi|hf|whsec|key)[-_][A-Za-z0-9_-]{10,}"
    r"|github_pat_\w{20,}|AKIA[A-Z0-9]{16}|AIza[\w-]{30,}|eyJ[\w-]{8,}\.[\w-]{8,}\.[\w-]+"
    r"|-----BEGIN [A-Z ]*PRIVATE KEY-----.*",
    re.S,
)
"""Forms by which common services give out keys and tokens."""
_WITH_PASSWORD = re.compile(r"\A[a-z][a-z0-9+.-]*://[^/\s:@]*:[^/\s@]+@.*", re.I | re.S)
_BARE = {"auth", "key", "pass", "pwd", "pat", "sig", "signature", "apikey", "dsn"}
"""Names that say a credential where they stand alone."""


def is_credential(name: str, value: str) -> bool:
    """Whether a value under a name is to be kept apart from a file."""
    bare = name.strip("-").casefold().replace("-", "_")
    named = says_secret(bare) or bare in _BARE or bare.endswith(("_key", "_auth", "_pat"))
    return bool(value) and (named or looks_secret(value))


def looks_secret(value: str) -> bool:
    """Whether a value has the form of a credential, whatever it is called."""
    return bool(_FORMS.fullmatch(value) or _WITH_PASSWORD.fullmatch(value))


def split_url(url: str) -> tuple[str, dict[str, str]]:
    """An address without the credentials in its query, and those.

    Raises:
        ValueError: it is not an address.
    """
    parts = urlsplit(url)
    given = parse_qsl(parts.query, keep_blank_values=True)
    secret = {name: value for name, value in given if is_credential(name, value)}
    if not secret:
        return url, {}
    kept = [(name, value) for name, value in given if name not in secret]
    return urlunsplit(SplitResult(*parts[:3], urlencode(kept), parts[4])), secret


def secret_name(*words: str) -> str:
    """A variable's name made of words, such as `TIDES_TOKEN`."""
    return re.sub(r"[^A-Za-z0-9]+", "_", "_".join(words)).strip("_").upper()[:80] or "SECRET"
