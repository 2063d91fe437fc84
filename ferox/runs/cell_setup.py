"""The set-up of a cell: under what its trials run, so that runs can be compared.

Two runs of a cell are comparable if agent, model, modes and faults are the same; what else
differs between them is told beside the difference in their results.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ferox.core.agent_code import local_modules
from ferox.core.json_values import json_hash
from ferox.formats.agent import AgentFile
from ferox.intake.files import read_bytes
from ferox.intake.limits import IntakeError
from ferox.runs.overrides import Overrides
from ferox.runs.snapshot import Snapshot
from ferox.workspace.modes import RECORDED

COMPARABLE = ("agent", "model", "modes", "faults")
"""Parts of a set-up that have to be the same in a predecessor."""
MOST_FILES = 200
"""Files of an agent's own code that are looked at."""
LARGEST_FILE = 2_000_000


def cell_setup(
    snapshot: Snapshot, suite: str, agent: str, overrides: Overrides, code: str | None
) -> dict[str, str]:
    """The set-up of an agent's trials of a suite, by part: a few words, or a hash. A part that
    cannot be known is left out. `code`: the hash of the agent's own code, if it is known."""
    file, arm = snapshot.agents[agent], snapshot.arms.get(agent)
    snapshot = snapshot.of_arm(agent)
    script = snapshot.suites[suite]
    thinks_with = file.thinks_with
    sources = {name: snapshot.models[name] for name in sorted(set(thinks_with.values()))}
    models = {name: _dumped_model(source) for name, source in sources.items()}
    spoken = {
        s.recording: snapshot.model_recordings[s.recording] for s in sources.values() if s.recording
    }
    files = sorted({s.stand_in for s in sources.values() if s.stand_in})
    stand_ins = {path: _dumped_model(snapshot.stand_ins[path]) for path in files}
    servers = {name: _dumped_model(snapshot.servers[name]) for name in sorted(script.servers)}
    recordings = {
        path: snapshot.recordings[path]
        for name, mode in script.servers.items()
        if mode == RECORDED and (path := snapshot.servers[name].recording)
    }
    wording = {name: file_body.pop("wording", None) for name, file_body in servers.items()}
    own = {
        k: v for k, v in _dumped_model(file).items() if k not in ("model", "models", "instructions")
    }
    setup = {
        "agent": file.agent,
        "model": ", ".join(m if c == "main" else f"{c}: {m}" for c, m in thinks_with.items()),
        "modes": ", ".join(f"{s} {mode}" for s, mode in sorted(script.servers.items())),
        "faults": f"{overrides.faults or ''} {arm.faults_label() if arm else ''}".strip(),
        "instructions": json_hash(snapshot.instructions.get(agent, "")),
        "wording": json_hash(wording),
        "model settings": json_hash([models, stand_ins, spoken]),
        "servers": json_hash([servers, recordings]),
        "agent settings": json_hash(own),
    }
    if snapshot.fork is not None:
        fork = snapshot.fork
        setup["fork"] = f"trial {fork.trial} at {fork.at}, {fork.change.words}"
    return {**setup, "agent code": code} if code else setup


def setup_key(setup: dict[str, str]) -> str:
    """Equal for set-ups that are comparable."""
    forked = [setup["fork"]] if "fork" in setup else []
    return json_hash([*(setup.get(part, "") for part in COMPARABLE), *forked])


def _dumped_model(model: Any) -> dict[str, Any]:
    dumped: dict[str, Any] = model.model_dump(mode="json", by_alias=True, exclude_unset=True)
    return dumped


def agent_code(agent: AgentFile, root: Path) -> str | None:
    """A hash of the files of the workspace that an agent runs: its entry and what that imports
    from beside it, or the files that its command names. None if it names none."""
    waiting: list[Path] = []
    if agent.entry:
        waiting.append(root / agent.entry.rpartition(":")[0])
    for word in agent.command or ():
        waiting.append(root / (agent.cwd or "") / word)
    texts: dict[str, str] = {}
    while waiting and len(texts) < MOST_FILES:
        path = waiting.pop().resolve()
        if str(path) in texts or not path.is_relative_to(root.resolve()) or not path.is_file():
            continue
        try:
            text = read_bytes(path, LARGEST_FILE).decode(errors="replace")
        except (OSError, IntakeError):
            continue
        texts[str(path)] = text
        if path.suffix == ".py":
            waiting += [path.parent / f"{name}.py" for name in local_modules(text)]
            waiting += [path.parent / name / "__init__.py" for name in local_modules(text)]
    named = {str(Path(p).relative_to(root.resolve())): text for p, text in texts.items()}
    return json_hash(named) if named else None
