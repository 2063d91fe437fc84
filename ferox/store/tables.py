"""The tables. Change them with a migration in `migrations/versions` beside this file."""

from __future__ import annotations

import json
from typing import Any

from sqlalchemy import ForeignKey, Index, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column
from sqlalchemy.types import TypeDecorator

from ferox.core.json_values import compact_json


class JsonText(str):
    """JSON that is text already, and stored as it is."""

    __slots__ = ()


class Json(TypeDecorator[Any]):
    """A JSON value in a column of text.

    SQLAlchemy's own JSON type declares a column that SQLite takes for a numeric one.
    """

    impl: type[String] = Text
    cache_ok = True

    def process_bind_param(self, value: Any, dialect: object) -> str | None:
        """The value as text."""
        return value if value is None or isinstance(value, JsonText) else compact_json(value)

    def process_result_value(self, value: str | None, dialect: object) -> Any:
        """The value that a text holds."""
        return None if value is None else json.loads(value)


class ShortJson(Json):
    """A JSON value in a column of short text."""

    impl = String
    cache_ok = True


class Base(DeclarativeBase):
    """All tables of the database."""


class Run(Base):
    """Agents × tasks × repeats. Times are seconds since the epoch."""

    __tablename__ = "run"

    id: Mapped[int] = mapped_column(primary_key=True)
    title: Mapped[str]
    state: Mapped[str]
    """waiting, running, done or stopped; *interrupted* is running with no worker alive."""
    stop: Mapped[bool] = mapped_column(default=False)
    seed: Mapped[int]
    repeats: Mapped[int]
    at_once: Mapped[int]
    on: Mapped[str | None]
    """The cluster whose machines carry it out; None: this machine, in the worker itself."""
    created_at: Mapped[float]
    started_at: Mapped[float | None]
    finished_at: Mapped[float | None]
    message: Mapped[str | None]
    """Why the run as a whole could not go on, if it could not."""
    hold: Mapped[Any] = mapped_column(Json, nullable=True)
    """Which calls are held; None: none are."""
    overrides: Mapped[Any] = mapped_column(Json, default={})
    """What differs from the files in this run: modes, models, faults."""
    plan: Mapped[str | None]
    """The name of the plan whose arms it is of."""
    origin: Mapped[str | None]
    """Where its trials are from, if not from here: `brought in` or `gathered`."""
    shard: Mapped[Any] = mapped_column(Json, nullable=True)
    """Which part of a run it is: `part` of `parts`, and how many `trials` there are in all of them;
    None: it is whole."""
    fork_of: Mapped[int | None] = mapped_column(index=True)
    """The trial that all of its trials go on from, if they are forks."""
    fork: Mapped[Any] = mapped_column(Json, nullable=True)
    """Of forks: `at` which event they go on, `change` what is otherwise, in words, and `detail`."""
    looks: Mapped[Any] = mapped_column(Json, nullable=True)
    """What each look at a run that ends once it is decided has said; None: it does not."""


class StoredSnapshot(Base):
    """Everything that a run used, so that it can be explained and judged again; its parts are
    pieces."""

    __tablename__ = "snapshot"

    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"), primary_key=True)
    body: Mapped[Any] = mapped_column(Json)


class Trial(Base):
    """One conversation. Small, so that a board of many trials reads fast."""

    __tablename__ = "trial"
    __table_args__ = (
        Index("trial_by_run", "run_id", "suite", "task", "agent"),
        Index("trial_by_task", "suite", "task", "id"),
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    suite: Mapped[str]
    task: Mapped[str]
    agent: Mapped[str]
    number: Mapped[int]
    place: Mapped[int]
    """Where it stands in the order in which the run is carried out."""
    state: Mapped[str]
    """waiting, running, done or stopped."""
    started_at: Mapped[float | None]
    changed_at: Mapped[float]
    script: Mapped[str | None]
    """A hash of the script that it was last judged by."""
    verdict: Mapped[str | None]
    """pass, fail, error, or unjudged: nothing is demanded of it."""
    reason: Mapped[str | None]
    score_choice: Mapped[float | None]
    score_arguments: Mapped[float | None]
    score_order: Mapped[float | None]
    score_failures: Mapped[float | None]
    score_latency: Mapped[float | None]
    score_outcome: Mapped[float | None]
    calls: Mapped[int] = mapped_column(default=0)
    turn_ms: Mapped[float | None]
    model_ms: Mapped[float | None]
    tool_ms: Mapped[float | None]
    agent_ms: Mapped[float | None]
    model_calls: Mapped[int | None]
    """Requests to its models; None: they were not seen."""
    tokens_in: Mapped[int | None]
    tokens_out: Mapped[int | None]
    tokens_cached: Mapped[int | None]
    """Of those that went in, what the endpoints had kept from before."""
    first_words_ms: Mapped[float | None]
    """From the user's first words until the first of the reply's."""
    choices: Mapped[Any] = mapped_column(ShortJson, nullable=True)
    """Which tool was chosen for each that was expected; of trials that were scored before this was
    kept, only where it was another."""
    went_wrong: Mapped[str | None]
    """What went wrong first, in a sentence."""
    failed: Mapped[Any] = mapped_column(ShortJson, nullable=True)
    """The ids of the checks that failed; None: it was not judged."""


class LostTry(Base):
    """A try of a trial whose machine was lost while the trial went on."""

    __tablename__ = "lost_try"
    __table_args__ = (Index("lost_try_by_trial", "trial_id"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"))
    machine: Mapped[str]
    at: Mapped[float]


class CellSetup(Base):
    """Under what an agent's trials of a suite run, by part. `key` is equal where two
    set-ups may be compared."""

    __tablename__ = "cell_setup"
    __table_args__ = (Index("cell_setup_by_key", "suite", "agent", "key"),)

    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"), primary_key=True)
    suite: Mapped[str] = mapped_column(primary_key=True)
    agent: Mapped[str] = mapped_column(primary_key=True)
    key: Mapped[str]
    body: Mapped[Any] = mapped_column(Json)


class CountedCell(Base):
    """What the trials of a cell come to. Triggers take `body` away, and raise `version`, whenever a
    trial of the cell changes."""

    __tablename__ = "counted_cell"

    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"), primary_key=True)
    suite: Mapped[str] = mapped_column(primary_key=True)
    task: Mapped[str] = mapped_column(primary_key=True)
    agent: Mapped[str] = mapped_column(primary_key=True)
    changed_at: Mapped[float]
    version: Mapped[int] = mapped_column(default=0)
    body: Mapped[str | None] = mapped_column(Text)


class PackedTrace(Base):
    """A finished trial's trace, the raw messages of its calls and what its models were shown,
    packed together; what is the same in many trials is a piece."""

    __tablename__ = "packed_trace"

    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"), primary_key=True)
    like: Mapped[int | None]
    """The trial that it is packed against; None: it is packed by itself."""
    body: Mapped[bytes]


class EventRow(Base):
    """One event of a trial that goes on, at its place in the trace."""

    __tablename__ = "event"

    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"), primary_key=True)
    n: Mapped[int] = mapped_column(primary_key=True)
    body: Mapped[Any] = mapped_column(Json)


class ResultRow(Base):
    """A result, under the script that judged it. The newest of a trial counts."""

    __tablename__ = "result"
    __table_args__ = (Index("result_by_trial", "trial_id"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"))
    script: Mapped[str]
    """A hash of the task's script."""
    scored_at: Mapped[float]
    like: Mapped[int | None]
    """The result that it is packed against; None: it is packed by itself."""
    body: Mapped[bytes]


class StoredScript(Base):
    """A task's script that trials were scored under after their run.

    What a trial was first scored under stands in its run's snapshot.
    """

    __tablename__ = "script"

    hash: Mapped[str] = mapped_column(primary_key=True)
    suite: Mapped[str]
    task: Mapped[str]
    at: Mapped[float]
    body: Mapped[Any] = mapped_column(Json)


class StoredReplay(Base):
    """Trials of a run, played back to its agents as they were then. Times are seconds since the
    epoch."""

    __tablename__ = "replay"

    id: Mapped[int] = mapped_column(primary_key=True)
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"), index=True)
    created_at: Mapped[float]
    finished_at: Mapped[float | None]
    state: Mapped[str]
    """running, done or stopped; *interrupted* is running with nobody who carries it out."""
    stop: Mapped[bool] = mapped_column(default=False)
    trials: Mapped[Any] = mapped_column(Json)
    """The ids of those that are played back."""
    message: Mapped[str | None]


class StoredReplayedTrial(Base):
    """What became of one trial in a replay."""

    __tablename__ = "replayed_trial"
    __table_args__ = (Index("replayed_by_trial", "trial_id"),)

    replay_id: Mapped[int] = mapped_column(ForeignKey("replay.id"), primary_key=True)
    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"), primary_key=True)
    verdict: Mapped[str]
    asked_model: Mapped[bool]
    body: Mapped[Any] = mapped_column(Json)
    """Where it parted, what differs, and why it could not be played back."""


class TrialMark(Base):
    """What a person thinks of a trial, apart from its checks."""

    __tablename__ = "mark"

    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"), primary_key=True)
    mark: Mapped[str | None]
    note: Mapped[str] = mapped_column(Text)
    at: Mapped[float]


class WireMessages(Base):
    """The raw messages of one call of a trial that goes on: what was asked and what was
    answered."""

    __tablename__ = "wire"

    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"), primary_key=True)
    call: Mapped[str] = mapped_column(primary_key=True)
    request: Mapped[str] = mapped_column(Text)
    answer: Mapped[str] = mapped_column(Text)


class Piece(Base):
    """A piece of JSON, compressed, once however many rows hold it."""

    __tablename__ = "piece"

    hash: Mapped[str] = mapped_column(primary_key=True)
    body: Mapped[bytes]


class ModelRequest(Base):
    """One request to a model of a trial that goes on, by its event: its pieces' hashes and its
    answer's."""

    __tablename__ = "model_request"

    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"), primary_key=True)
    event: Mapped[str] = mapped_column(primary_key=True)
    body: Mapped[Any] = mapped_column(Json)


class StoredToolList(Base):
    """A server's tools as they were last seen by hand, so that changes can be told."""

    __tablename__ = "look"

    server: Mapped[str] = mapped_column(primary_key=True)
    mode: Mapped[str] = mapped_column("way", primary_key=True)
    at: Mapped[float]
    tools: Mapped[Any] = mapped_column(Json)


class HeldCall(Base):
    """A call that is held, or was: `do` says what was decided, None that it waits."""

    __tablename__ = "held"
    __table_args__ = (Index("held_by_run", "run_id", "do"),)

    id: Mapped[int] = mapped_column(primary_key=True)
    run_id: Mapped[int] = mapped_column(ForeignKey("run.id"))
    trial_id: Mapped[int] = mapped_column(ForeignKey("trial.id"))
    tool: Mapped[str]
    args: Mapped[Any] = mapped_column(Json)
    at: Mapped[float]
    do: Mapped[str | None]
    value: Mapped[Any] = mapped_column(Json, nullable=True)


class StoredCallByHand(Base):
    """A call tried by hand: its arguments and what came, credentials masked."""

    __tablename__ = "tried"

    id: Mapped[int] = mapped_column(primary_key=True)
    server: Mapped[str]
    mode: Mapped[str] = mapped_column("way")
    tool: Mapped[str]
    at: Mapped[float]
    args: Mapped[Any] = mapped_column(Json)
    body: Mapped[Any] = mapped_column(Json)

    __table_args__ = (Index("tried_by_tool", "server", "tool", "at"),)
