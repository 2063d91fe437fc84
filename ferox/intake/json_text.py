"""JSON from outside."""

from __future__ import annotations

import json
from typing import Any

from ferox.intake.limits import (
    MESSAGE,
    IntakeError,
    Limits,
    check_size,
    check_value,
    is_surely_within,
    storable_json,
)


def read_json(text: str | bytes, limits: Limits = MESSAGE) -> Any:
    """The value of a JSON text, fit to be stored: half characters (lone surrogates) are replaced.

    Raises:
        IntakeError: it is not JSON, or beyond the limits; the message says what and where.
    """
    return read_json_noting(text, limits)[0]


def read_json_noting(text: str | bytes, limits: Limits = MESSAGE) -> tuple[Any, bool]:
    """The same, and whether anything was replaced.

    Raises:
        IntakeError: it is not JSON, or beyond the limits.
    """
    check_size(text, limits)
    try:
        value = json.loads(text)
    except json.JSONDecodeError as error:
        raise IntakeError(f"no JSON: {error.msg}", error.lineno, error.colno) from None
    except UnicodeDecodeError as error:
        raise IntakeError(f"no UTF-8 at byte {error.start + 1}") from None
    except RecursionError:
        raise IntakeError(f"more than {limits.max_depth} levels") from None
    except ValueError:  # Python's own bound on digits
        raise IntakeError(f"a number of more than {limits.max_digits} digits") from None
    if not is_surely_within(text, limits):
        check_value(value, limits)
    kept = storable_json(value) if _may_hold_surrogates(text) else value
    return kept, kept is not value


def parsed_json(value: Any) -> Any:
    """A value that may be written as JSON; a text that is none stays as it is."""
    if not isinstance(value, str):
        return value
    try:
        return read_json(value)
    except IntakeError:
        return value


def _may_hold_surrogates(text: str | bytes) -> bool:
    if isinstance(text, bytes):
        return b"\\u" in text
    return "\\u" in text or not text.isascii()
