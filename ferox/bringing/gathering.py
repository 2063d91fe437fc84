"""The parts of a run that several machines carried out, put together as one run."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any, NamedTuple

from pydantic import BaseModel, ValidationError

from ferox.core.json_values import json_hash
from ferox.core.masking import Masker
from ferox.core.naming import counted_noun
from ferox.formats.base import validation_fault
from ferox.formats.trace import Trace, trace_adapter
from ferox.intake.files import open_ordinary_file
from ferox.intake.json_text import read_json
from ferox.intake.limits import MESSAGE, IntakeError
from ferox.runs.elsewhere import (
    GATHERED,
    JudgedTrial,
    TrialFromElsewhere,
    TrialJudge,
    keep_run_from_elsewhere,
)
from ferox.runs.overrides import Overrides
from ferox.runs.snapshot import Snapshot
from ferox.store.database import Engine, write_session
from ferox.workspace.vault import current_vault

OF_THE_MACHINE = ("workspace", "python", "commit", "now")
"""Parts of a snapshot that may differ between machines."""
TrialName = tuple[str, str, str, int]


class GatheringError(ValueError):
    """Files that are not the parts of one run; the message says which and why."""


class ShardHeader(BaseModel):
    """Which part of a run a file holds."""

    part: int
    parts: int
    trials: int


class SetupHeader(BaseModel):
    """What an agent's trials of a suite were run under."""

    suite: str
    agent: str
    setup: dict[str, str]


class RunHeader(BaseModel):
    """The first line of a run's file."""

    ferox_run: int
    title: str
    seed: int
    repeats: int
    at_once: int
    created_at: float
    started_at: float | None
    finished_at: float | None
    overrides: dict[str, Any]
    plan: str | None
    shard: ShardHeader | None
    planned: int
    setups: list[SetupHeader]
    snapshot: dict[str, Any]

    @property
    def likeness(self) -> dict[str, str]:
        """What has to be the same in all parts of a run: a hash for each thing that may differ."""
        used = {k: v for k, v in self.snapshot.items() if k not in OF_THE_MACHINE}
        about = {"seed": self.seed, "repeats": self.repeats, "overrides": self.overrides}
        return {key: json_hash(value) for key, value in {**used, **about}.items()}


class GatheringOutcome(NamedTuple):
    """The run that was made, of how many trials, and how many are missing from it."""

    run: int
    trials: int
    missing: int


class _Part(NamedTuple):
    path: Path
    header: RunHeader
    trials: list[TrialFromElsewhere]


def gather_files(engine: Engine, paths: list[Path], *, partial: bool = False) -> GatheringOutcome:
    """Put the files of one run's parts together, and judge them by the scripts that they hold.

    Raises:
        GatheringError: they are not of one run, a trial is in two of them, or some are missing
            and `partial` does not allow that.
    """
    parts = [_read_part(path) for path in paths]
    _check_alike(parts)
    missing = _missing_trials(parts)
    if missing and not partial:
        raise GatheringError(f"{missing[1]}; give it, or --partial to do without")
    try:
        snapshot = Snapshot.model_validate(parts[0].header.snapshot)
        Overrides.model_validate(parts[0].header.overrides)
    except ValidationError as error:
        raise GatheringError(f"{parts[0].path}:1: {validation_fault(error)}") from None
    judge = TrialJudge(snapshot)
    judged = [_judge_trial(judge, part, trial) for part in parts for trial in part.trials]
    if not judged:
        raise GatheringError("there is no finished trial in them")
    headers = [part.header for part in parts]
    with write_session(engine) as session:
        run = keep_run_from_elsewhere(
            session,
            snapshot,
            judged,
            setups={(s.suite, s.agent): s.setup for header in headers for s in header.setups},
            title=headers[0].title,
            origin=GATHERED,
            plan=headers[0].plan,
            seed=headers[0].seed,
            repeats=headers[0].repeats,
            at_once=headers[0].at_once,
            overrides=headers[0].overrides,
            created_at=min(header.created_at for header in headers),
            started_at=min((h.started_at for h in headers if h.started_at), default=None),
            finished_at=max((h.finished_at for h in headers if h.finished_at), default=time.time()),
        )
    return GatheringOutcome(run, len(judged), missing[0] if missing else 0)


def _read_part(path: Path) -> _Part:
    masker = Masker(current_vault().secret_values().values())
    lines = _read_lines(path)
    first = next(lines, None)
    if first is None:
        raise GatheringError(f"{path}: it is empty")
    try:
        header = RunHeader.model_validate(first[1])
    except ValidationError as error:
        raise GatheringError(
            f"{first[0]}: no run's file, as `ferox run --save` writes it: {validation_fault(error)}"
        ) from None
    trials = []
    for place, body in lines:
        began = body.pop("started_at", None) if isinstance(body, dict) else None
        try:
            trace: Trace = trace_adapter().validate_python(body)
        except ValidationError as error:
            raise GatheringError(f"{place}: {validation_fault(error)}") from None
        started_at = float(began) if isinstance(began, int | float) else None
        trials.append(TrialFromElsewhere(masker.mask(trace), started_at))
    return _Part(path, header, trials)


def _read_lines(path: Path) -> Iterator[tuple[str, Any]]:
    try:
        with open_ordinary_file(path) as file:
            number = 0
            while line := file.readline(MESSAGE.max_bytes + 1):
                number += 1
                if line.strip():
                    yield f"{path}:{number}", read_json(line)
    except OSError as error:
        raise GatheringError(f"{path}: {error.strerror}") from None
    except IntakeError as error:
        raise GatheringError(f"{path}:{number}: {error.message}") from None


def _check_alike(parts: list[_Part]) -> None:
    """See that parts are of one run, and that no trial is in two of them."""
    first, *others = parts
    for other in others:
        one, two = first.header.likeness, other.header.likeness
        differs = sorted(key for key in one.keys() | two.keys() if one.get(key) != two.get(key))
        if differs:
            raise GatheringError(
                f"{other.path} is of another run than {first.path}: {', '.join(differs)} differ"
            )
    seen: dict[TrialName, Path] = {}
    for part in parts:
        for trace, _ in part.trials:
            name = (trace["suite"], trace["task"], trace["agent"], trace["trial"])
            if name in seen:
                said = f"{name[0]}/{name[1]} · {name[2]} · trial {name[3]}"
                raise GatheringError(f"{said} is in {seen[name]} and in {part.path}")
            seen[name] = part.path


def _missing_trials(parts: list[_Part]) -> tuple[int, str] | None:
    """How many trials are missing, and why; None if none are."""
    for part in parts:
        lost = part.header.planned - len(part.trials)
        if lost:
            return lost, f"{counted_noun(lost, 'trial')} of {part.path} did not finish"
    shards = [part.header.shard for part in parts if part.header.shard]
    if not shards:
        return None
    given = {shard.part for shard in shards}
    absent = [n for n in range(1, shards[0].parts + 1) if n not in given]
    if not absent:
        return None
    lost = shards[0].trials - sum(len(part.trials) for part in parts)
    named = ", ".join(f"{n}/{shards[0].parts}" for n in absent[:10])
    return lost, f"{counted_noun(lost, 'trial')} missing: there is no file of {named}"


def _judge_trial(judge: TrialJudge, part: _Part, trial: TrialFromElsewhere) -> JudgedTrial:
    trace = trial.trace
    name = f"{trace['suite']}/{trace['task']} · {trace['agent']}"
    try:
        return judge.judge(trial)
    except (ValueError, KeyError, StopIteration):
        raise GatheringError(f"{part.path}: {name} is not in the run's own snapshot") from None
