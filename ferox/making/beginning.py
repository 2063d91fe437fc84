"""A new workspace: one server, one agent, one suite of two tasks, and a simulated model."""

from __future__ import annotations

import re
from collections.abc import Mapping
from pathlib import Path

from ferox.making.connecting import Connection, connection_files

SAMPLES = Path(__file__).parent / "beginnings"
AGENT = "desk"
MODEL = "stand-in"
MADE_UP_SERVER = "berths"
IGNORED = """# Results, and secrets: never committed.
.ferox/
.env
.venv/
node_modules/
__pycache__/
"""


def workspace_name(folder: str) -> str:
    """A workspace's name from its folder's."""
    return re.sub(r"\s+", " ", folder.replace("_", " ").replace("-", " ")).strip() or "new"


def new_workspace_files(
    name: str, connection: Connection, agent: str, servers: Mapping[str, str]
) -> dict[str, str]:
    """The files of a new workspace, path → text, for an agent that is built in one way.

    `servers` are further files of servers that were given: name → text.
    """
    settings = "\n".join(
        (
            "ferox: 1",
            f"name: {name}",
            "models:",
            f"  {MODEL}: {{stand_in: stand_ins/desk.yaml}}   # simulated; ships with Ferox",
            "  # A real one is any endpoint with a chat-completions interface; its key is in .env:",
            "  # real:",
            "  #   base_url: https://models.example/v1",
            "  #   name: MODEL",
            "  #   api_key: {secret: MODEL_KEY}",
            "defaults: {trials: 3, at_once: 2}",
            "",
        )
    )
    samples = {
        "servers/berths.yaml": "berths.yaml",
        "tasks/first.yaml": "first.yaml",
        "stand_ins/desk.yaml": "stand_in.yaml",
    }
    return {
        "ferox.yaml": settings,
        **{path: (SAMPLES / file).read_text(encoding="utf-8") for path, file in samples.items()},
        **{f"servers/{server}.yaml": text for server, text in servers.items()},
        **connection_files(connection, agent, MODEL),
        ".gitignore": IGNORED,
        "README.md": _read_me(name, connection, agent),
    }


def next_steps(connection: Connection, folder: str) -> list[str]:
    """What to do next, a command or a sentence each."""
    steps = []
    if connection.link == "process":
        steps.append(f"(cd {folder} && {connection.needs})")
    elif connection.code:
        install = f" && {folder}/.venv/bin/pip install {connection.needs}"
        steps.append(f"python3 -m venv {folder}/.venv{install if connection.needs else ''}")
    return [
        *steps,
        f"ferox verify {folder}",
        f"ferox run {folder}",
        f"ferox serve {folder}",
    ]


def _read_me(name: str, connection: Connection, agent: str) -> str:
    steps = "\n".join(next_steps(connection, "."))
    return f"""# {name}

A workspace for Ferox: how an agent chooses and calls tools.

| | |
|---|---|
| `ferox.yaml` | the workspace, its models |
| `servers/` | tool servers: live, recorded or mocked |
| `agents/{agent}.yaml` | the agent under test: {connection.title} |
| `tasks/first.yaml` | what it is asked, and what is expected |
| `stand_ins/desk.yaml` | a simulated model, until there is a real one |

```sh
{steps}
```

Keys stand in a file `.env` beside this one, which is never committed, and are named by
`{{secret: NAME}}`.
"""
