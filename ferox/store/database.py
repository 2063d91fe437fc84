"""Opening a workspace's database: WAL, migrations, and plain words when it fails."""

from __future__ import annotations

import fcntl
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any
from weakref import WeakKeyDictionary

from sqlalchemy import Connection, create_engine, event, inspect, text
from sqlalchemy import Engine as Engine
from sqlalchemy.exc import DatabaseError as DatabaseError
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session as Session

from ferox.intake.limits import storable_text

MIGRATIONS = Path(__file__).parent / "migrations"
WAIT_S = 30
"""Seconds to wait for another process's write."""


class StoreError(Exception):
    """The database cannot be used; the message says why and what to do."""


FOLDER, FILE = ".ferox", "results.sqlite"


def database_path(workspace: Path) -> Path:
    """Where a workspace's results are, or will be."""
    return workspace / FOLDER / FILE


def results_folder(workspace: Path) -> Path:
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
def _locked_file(path: Path) -> Iterator[None]:
    """Hold a file's lock, so that two processes do not migrate at once."""
    with path.open("w") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield


def _prepare_connection(connection: Any, record: Any) -> None:
    cursor = connection.cursor()
    # WAL: screens read while a worker writes. NORMAL: a power cut may cost the last commits,
    # never the database.
    for pragma in ("journal_mode=WAL", "synchronous=NORMAL", "foreign_keys=ON"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()


@contextmanager
def read_session(engine: Engine) -> Iterator[Session]:
    """A session to read in; its records can be used after it."""
    with Session(engine, expire_on_commit=False) as session:
        yield session


def let_go(session: Session) -> None:
    """Have a session forget the records that it has read, so that many can be read in turn."""
    session.expunge_all()


def look_afresh(session: Session) -> None:
    """Have a session that reads see what is stored now: its records are read again when used."""
    session.rollback()


@contextmanager
def write_session(engine: Engine) -> Iterator[Session]:
    """A session whose changes are committed together, or not at all."""
    with Session(engine, expire_on_commit=False) as session, session.begin():
        yield session


def open_database(workspace: Path) -> Engine:
    """The workspace's database, brought up to date.

    Raises:
        StoreError: it is damaged, locked, from a newer Ferox, or its disk is full.
    """
    path = results_folder(workspace) / FILE
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": WAIT_S})
    event.listen(engine, "connect", _prepare_connection)
    event.listen(engine, "before_cursor_execute", _mend_parameters, retval=True)
    try:
        # A worker and a server often open it at the same time.
        with _locked_file(path.with_suffix(".lock")):
            if _bring_up_to_date(engine):
                _give_back_room(engine)
    except (DatabaseError, sqlite3.DatabaseError) as error:
        raise StoreError(explain_failure(error, path)) from None
    _opened[engine] = path, path.stat().st_ino
    return engine


def open_unwaiting(engine: Engine) -> Connection:
    """A connection that fails at once where another writes, for those who must not wait; what it
    writes stays in the log until `move_log`, or another's write, moves it."""
    connection = engine.connect()
    connection.detach()  # the next to connect is to wait again
    for pragma in ("busy_timeout=0", "wal_autocheckpoint=0"):
        connection.exec_driver_sql(f"PRAGMA {pragma}")
    connection.commit()
    return connection


def move_log(engine: Engine) -> None:
    """Move what is in the write-ahead log into the database, as far as no reader needs it."""
    with suppress(DatabaseError), engine.connect() as connection:
        connection.exec_driver_sql("PRAGMA wal_checkpoint(PASSIVE)")


_opened: WeakKeyDictionary[Engine, tuple[Path, int]] = WeakKeyDictionary()
"""Where each engine's file is, and which file that was when it was opened."""


def check_in_place(engine: Engine) -> None:
    """See that an engine's file is still the one that stands there.

    SQLite would go on writing to a file that was removed, and all of it would be lost.

    Raises:
        StoreError: it was removed or replaced.
    """
    path, inode = _opened[engine]
    try:
        there = path.stat().st_ino == inode
    except OSError:
        there = False
    if not there:
        raise StoreError(
            f"{path} was removed or replaced while it was in use: stop this Ferox, put back "
            "what was removed if it is wanted, and start again"
        )


def _mend_parameters(
    connection: Any, cursor: Any, statement: str, parameters: Any, context: Any, many: bool
) -> tuple[str, Any]:
    """The last door: whatever half characters got this far, they keep nothing from being
    stored."""
    if many:
        return statement, [_mended_row(row) for row in parameters]
    return statement, _mended_row(parameters)


def _mended_row(row: Any) -> Any:
    if isinstance(row, tuple):
        return tuple(storable_text(v) if isinstance(v, str) else v for v in row)
    if isinstance(row, dict):
        return {k: storable_text(v) if isinstance(v, str) else v for k, v in row.items()}
    return row


def _bring_up_to_date(engine: Engine) -> bool:
    """Bring the tables up to date; whether there were older ones."""
    newest = max(path.name.partition("_")[0] for path in MIGRATIONS.glob("versions/[0-9]*.py"))
    with engine.begin() as connection:
        before = _newest_revision(connection)
        if before == newest:
            return False
        # Alembic takes longer to import than most commands take to run.
        from alembic import command
        from alembic.config import Config
        from alembic.util import CommandError

        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        config.attributes["connection"] = connection
        try:
            command.upgrade(config, "head")
        except CommandError as error:
            path = engine.url.database
            raise StoreError(f"{path} is not for this version of Ferox: {error}") from None
    return before is not None


def _give_back_room(engine: Engine) -> None:
    """Give back the room that a migration has freed; on a full disk it stays as it is."""
    # VACUUM cannot run in a transaction, which SQLAlchemy begins by itself.
    with suppress(DatabaseError), engine.connect() as connection:
        connection.execution_options(isolation_level="AUTOCOMMIT")
        connection.execute(text("VACUUM"))


def _newest_revision(connection: Connection) -> str | None:
    """The newest migration that the database has had."""
    if not inspect(connection).has_table("alembic_version"):
        return None
    found: str | None = connection.scalar(text("SELECT version_num FROM alembic_version"))
    return found


def explain_failure(error: Exception, path: Path | str = "the results in .ferox") -> str:
    """Why the database failed, and what to do."""
    if isinstance(error, StoreError):
        return str(error)
    reason = str(getattr(error, "orig", error))
    if "disk is full" in reason or "disk I/O" in reason:
        return f"{path} cannot be written: the disk is full. Make room; what is stored stays"
    if "readonly" in reason or "read-only" in reason:
        return f"{path} may not be written: see who owns `.ferox` and whether its disk is read-only"
    if "unable to open" in reason or "no such table" in reason:
        return f"{path} cannot be opened: `.ferox` was removed or may not be read"
    if "malformed" in reason or "not a database" in reason:
        return (
            f"{path} is damaged ({reason}); it is left as it is. Move it away to start "
            "afresh, or put back a copy"
        )
    if isinstance(error, OperationalError) and "locked" in reason:
        return f"{path} is locked by another program for more than {WAIT_S} s; close that first"
    return f"{path} cannot be used: {reason}"
