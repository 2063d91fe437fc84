"""Opening a workspace's database: WAL, migrations, and plain words when it fails."""

from __future__ import annotations

import fcntl
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.util import CommandError
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.exc import DatabaseError, OperationalError

MIGRATIONS = Path(__file__).parent / "migrations"
WAIT_S = 30
"""Seconds to wait for another process's write."""


class StoreError(Exception):
    """The database cannot be used; the message says why and what to do."""


FOLDER, FILE = ".ferox", "results.sqlite"


def database_path(workspace: Path) -> Path:
    """Where a workspace's results are, or will be."""
    return workspace / FOLDER / FILE


def folder(workspace: Path) -> Path:
    """Where a workspace's results and locks are, made if missing.

    Raises:
        StoreError: it cannot be made.
    """
    path = workspace / FOLDER
    try:
        path.mkdir(exist_ok=True)
    except OSError as error:
        raise StoreError(f"{path} cannot be made: {error}") from None
    return path


@contextmanager
def _alone(path: Path) -> Iterator[None]:
    """Hold a file's lock, so that two processes do not migrate at once."""
    with path.open("w") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield


def _prepare(connection: Any, record: Any) -> None:
    cursor = connection.cursor()
    for pragma in ("journal_mode=WAL", "synchronous=NORMAL", "foreign_keys=ON"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()


def open_database(workspace: Path) -> Engine:
    """The workspace's database, brought up to date.

    Raises:
        StoreError: it is damaged, locked, from a newer Ferox, or its disk is full.
    """
    path = folder(workspace) / FILE
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": WAIT_S})
    event.listen(engine, "connect", _prepare)
    try:
        with _alone(path.with_suffix(".lock")):
            _migrate(engine)
    except (DatabaseError, sqlite3.DatabaseError) as error:
        raise StoreError(_explain(path, error)) from None
    except CommandError as error:
        raise StoreError(f"{path} is not for this version of Ferox: {error}") from None
    return engine


def _migrate(engine: Engine) -> None:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def _explain(path: Path, error: Exception) -> str:
    told = str(getattr(error, "orig", error))
    if "malformed" in told or "not a database" in told:
        return (
            f"{path} is damaged ({told}); it is left as it is. Move it away to start "
            "afresh, or put back a copy"
        )
    if isinstance(error, OperationalError) and "locked" in told:
        return f"{path} is locked by another program for more than {WAIT_S} s; close that first"
    return f"{path} cannot be used: {told}"
