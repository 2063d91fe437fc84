"""Files beside the results, until a browser has fetched them, or they have been read."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from secrets import token_hex

from ferox.store.database import results_folder

MOST_KEPT = 10
"""Files of a kind; a browser has fetched older ones long since, or sends them no further."""


def fresh_path(root: Path, kind: str, suffix: str) -> Path:
    """A path for one more file of a kind; of the older ones the newest stay."""
    folder = results_folder(root) / kind
    folder.mkdir(exist_ok=True)
    newest = sorted(folder.iterdir(), key=lambda file: file.stat().st_mtime, reverse=True)
    for file in newest[MOST_KEPT - 1 :]:
        with suppress(OSError):
            file.unlink()
    return folder / f"{token_hex(8)}.{suffix}"
