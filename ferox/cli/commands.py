"""`ferox` and its commands; those about recordings are in `recording`.

Exit status: 0 all well, 1 checks failed, 2 wrong use or a file that does not load,
3 it could not run.
"""

from __future__ import annotations

import importlib
import json
import sys
from collections.abc import Callable
from pathlib import Path
from types import MappingProxyType
from typing import TYPE_CHECKING, Any, NoReturn

import click
from pydantic import ValidationError

import ferox
from ferox.cli.running import board_table, exit_status, failing_cells, follow
from ferox.cli.saying import (
    CHECKS_FAILED,
    COULD_NOT_RUN,
    WRONG_USE,
    Guarded,
    WorkspaceFirst,
    fail,
    folder_argument,
    new_console,
    pairs,
    say,
    say_json,
)
from ferox.cli.secrets import ask_to_agree
from ferox.core.naming import counted
from ferox.core.scoring import score as score_trace
from ferox.core.script import compile_script
from ferox.formats.suite import Suite
from ferox.formats.trace import TRACE, Trace
from ferox.intake.files import read_bytes, write_whole
from ferox.intake.json_text import read_json
from ferox.intake.limits import IntakeError
from ferox.runs.overrides import Overrides
from ferox.runs.records import (
    RunError,
    Unagreed,
    captures_folder,
    make_ready_again,
    plan_failed,
    plan_run,
    start_worker,
)
from ferox.runs.run_lock import RunLock
from ferox.store.database import StoreError, open_database
from ferox.workspace import WorkspaceError, load_workspace
from ferox.workspace.check_suite import Around, check_suite
from ferox.workspace.yaml_files import read_yaml, validate

if TYPE_CHECKING:
    from ferox.web.access import Access


class _Group(Guarded):
    """The commands; those that talk to tool servers are loaded when they are called.

    What they need takes a second to import, and most commands do not need it.
    """

    LATER = MappingProxyType(
        {
            "agree": "ferox.cli.secrets:agree",
            "allow": "ferox.cli.secrets:allow",
            "digest": "ferox.cli.stored:print_digest",
            "drift": "ferox.cli.recording:drift",
            "export": "ferox.cli.stored:export",
            "probe": "ferox.cli.probing:probe_agent",
            "record": "ferox.cli.recording:record",
            "shim": "ferox.cli.recording:shim",
            "try": "ferox.cli.trying:try_agent",
        }
    )

    def list_commands(self, ctx: click.Context) -> list[str]:
        """Every command, by name."""
        return sorted([*super().list_commands(ctx), *self.LATER])

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        """A command by its name; None if there is none."""
        if cmd_name not in self.LATER:
            return super().get_command(ctx, cmd_name)
        module, _, name = self.LATER[cmd_name].partition(":")
        command: click.Command = getattr(importlib.import_module(module), name)
        return command


@click.group(cls=_Group)
@click.version_option(ferox.__version__)
def main() -> None:
    """Find out how an agent, built with any framework, chooses and calls tools.

    A WORKSPACE is a folder with a ferox.yaml, agents, servers and tasks.
    """


@main.command()
@folder_argument
@click.option("--port", default=8640, show_default=True, help="Port to serve on.")
@click.option(
    "--host", default="127.0.0.1", show_default=True, metavar="ADDRESS",
    help="Serve others too, by this address of the machine; a token is asked for.",
)  # fmt: skip
@click.option(
    "--url", metavar="URL", help="Its address behind a proxy, such as https://desk.example."
)
@click.option(
    "--read-only", is_flag=True, help="Print a second token, for those who may only look."
)
def serve(workspace: Path, port: int, host: str, url: str | None, read_only: bool) -> None:
    """Serve the web application of WORKSPACE, by default on this machine only."""
    from ferox.web.serve import Address, ServeError
    from ferox.web.serve import serve as serve_web

    workspace = workspace.absolute()
    if not (workspace / "ferox.yaml").is_file():
        fail(WRONG_USE, f"{workspace} has no ferox.yaml; give the folder of a workspace")
    try:
        serve_web(
            workspace,
            Address(port, host, url, read_only),
            lambda url, access: _say_served(workspace.name, url, access),
        )
    except (ServeError, StoreError) as error:
        fail(COULD_NOT_RUN, error)
    except KeyboardInterrupt:
        say("stopped")


def _say_served(name: str, url: str, access: Access) -> None:
    """Where it is served, and the tokens, which are told nowhere else."""
    say(f"Ferox serves {name} at {url}")
    if access.token:
        say(f"token to work with it: {access.token}")
    if access.look_token:
        say(f"token to look only:    {access.look_token}")
    if access.token and not access.secure:
        say("what passes is not encrypted: put a proxy with TLS before it, and name it by --url")


@main.command()
@folder_argument
def verify(workspace: Path) -> None:
    """Load and cross-check every file of WORKSPACE; every error, with its place."""
    try:
        loaded = load_workspace(workspace)
    except WorkspaceError as error:
        fail(WRONG_USE, *error.problems, counted(len(error.problems), "problem"))
    tasks = sum(len(s.tasks) for s in loaded.suites.values())
    for note in loaded.notes:
        say(str(note))
    say(
        f"{loaded.settings.name}: {counted(len(loaded.agents), 'agent')}, "
        f"{counted(len(loaded.servers), 'server')}, {counted(len(loaded.suites), 'suite')} "
        f"with {counted(tasks, 'task')}: all well"
    )


@main.command()
@folder_argument
@click.option("--suite", "suites", multiple=True, help="A suite to run; left out: all.")
@click.option("--task", "tasks", multiple=True, help="A task to run; left out: all of the suites.")
@click.option("--agent", "agents", multiple=True, help="An agent to run; left out: all.")
@click.option("--trials", type=click.IntRange(1, 1000), help="Repeats of each task.")
@click.option("--at-once", type=click.IntRange(1, 64), help="Trials side by side.")
@click.option(
    "--server", "modes", multiple=True, metavar="NAME=MODE",
    help="Have a server live, recorded, mock, or one of its variants, whatever the suite says.",
)  # fmt: skip
@click.option(
    "--model", "models", multiple=True, metavar="[OLD=]NEW",
    help="Have agents think with NEW in place of OLD, or of whatever they think with.",
)  # fmt: skip
@click.option("--faults", metavar="SET", help="Lay a set of faults of ferox.yaml over every task.")
@click.option(
    "--hold", "hold", metavar="WHEN",
    help="Hold calls for the screens to let go: any, writes, first, or a tool (a glob).",
)  # fmt: skip
@click.option(
    "--json", "json_file", type=click.Path(path_type=Path),
    help="Write every result here, with run, trial_id, model, arm and version.",
)  # fmt: skip
def run(
    workspace: Path,
    suites: tuple[str, ...],
    tasks: tuple[str, ...],
    agents: tuple[str, ...],
    trials: int | None,
    at_once: int | None,
    modes: tuple[str, ...],
    models: tuple[str, ...],
    faults: str | None,
    hold: str | None,
    json_file: Path | None,
) -> None:
    """Run agents × tasks × trials, and print the board.

    A worker process carries the run out; Ctrl-C stops it, and what is done stays.
    """
    lock = RunLock(workspace.absolute())
    try:
        loaded = load_workspace(workspace)
        engine = open_database(loaded.root)
        number = _agreed(
            lambda: plan_run(
                engine,
                loaded,
                list(suites) or list(loaded.suites),
                list(agents) or list(loaded.agents),
                trials or loaded.settings.defaults.trials,
                at_once or loaded.settings.defaults.at_once,
                list(tasks),
                overrides=Overrides(
                    modes=pairs("--server", modes, "harbour=live"),
                    models=dict(_model(given) for given in models),
                    faults=faults,
                ),
                hold=_hold(hold) if hold else None,
                lock=lock,
            )
        )
    except (WorkspaceError, RunError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    _carry_out(lock, loaded.root, engine, number, json_file)


@main.command("again", cls=WorkspaceFirst)
@folder_argument
@click.argument("number", metavar="RUN", type=int)
@click.option("--json", "json_file", type=click.Path(path_type=Path), help="Write results here.")
def run_again(workspace: Path, number: int, json_file: Path | None) -> None:
    """Run again only what failed in RUN, as the files are now."""
    lock = RunLock(workspace.absolute())
    try:
        loaded = load_workspace(workspace)
        engine = open_database(loaded.root)
        anew = _agreed(lambda: plan_failed(engine, loaded, number, lock))
    except (WorkspaceError, RunError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    _carry_out(lock, loaded.root, engine, anew, json_file)


@main.command(cls=WorkspaceFirst)
@folder_argument
@click.argument("number", metavar="RUN", type=int)
@click.option("--json", "json_file", type=click.Path(path_type=Path), help="Write results here.")
def resume(workspace: Path, number: int, json_file: Path | None) -> None:
    """Do what a stopped or interrupted RUN has not done yet."""
    root = workspace.absolute()
    lock = RunLock(root)
    try:
        engine = open_database(root)
        missing = make_ready_again(engine, root, number, lock)
    except RunError as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    say(f"{counted(missing, 'trial')} of run {number} still to do")
    _carry_out(lock, root, engine, number, json_file)


def _agreed(plan: Callable[[], int]) -> int:
    """Plan a run, once its secrets may go where it would send them."""
    try:
        return plan()
    except Unagreed as error:
        ask_to_agree(error.uses)
        return plan()


def _model(given: str) -> tuple[str, str]:
    """OLD=NEW as a pair; NEW alone stands in every model's place."""
    old, equals, new = given.partition("=")
    return (old, new) if equals else ("*", given)


def _hold(when: str) -> dict[str, str]:
    return {"when": when} if when in ("any", "writes", "first") else {"when": "tool", "tool": when}


def _carry_out(
    lock: RunLock, root: Path, engine: Any, number: int, json_file: Path | None
) -> NoReturn:
    console = new_console()
    with lock:
        worker = start_worker(root, number, lock)
    follow(console, engine, number, worker)
    console.print(board_table(engine, root, number))
    captured = captures_folder(root, number)
    if captured.is_dir():
        of = sorted(path.stem for path in captured.glob("*.jsonl"))
        say(f"raw messages of {', '.join(of)} are in {captured.relative_to(root)}")
    for line in failing_cells(engine, number):
        say(line)
    status, results, message = exit_status(engine, root, number)
    if json_file:
        _write_json(json_file, results)
    if message:
        say(message, err=True)
    sys.exit(status)


def _write_json(path: Path, results: list[dict[str, Any]]) -> None:
    """Write results whole, or nothing."""
    text = json.dumps(results, indent=1, ensure_ascii=False) + "\n"
    write_whole(path.absolute(), lambda file: file.write(text))


@main.command()
@click.option(
    "--tasks", "suite_file", required=True, type=click.Path(path_type=Path), help="A suite's file."
)
@click.argument("traces", nargs=-1, required=True, type=click.Path(path_type=Path))
def score(suite_file: Path, traces: tuple[Path, ...]) -> None:
    """Score TRACES against a suite; a JSON list, one result for each, in order.

    Needs no workspace: traces may come from anywhere. A file holds one as JSON, or several as
    JSON lines, as `ferox export` writes them.
    """
    file = read_yaml(suite_file, str(suite_file))
    suite = validate(file, Suite)
    found = list(file.problems) if suite is None else list(check_suite(file, suite, Around()))
    problems = sorted(p for p in found if not p.note)
    if suite is None or problems:
        fail(WRONG_USE, *problems)
    results = [_score_trace(suite, *one) for path in traces for one in _read_traces(path)]
    say_json(results, indent=1)
    if any(r["verdict"] == "error" for r in results):
        sys.exit(COULD_NOT_RUN)
    sys.exit(CHECKS_FAILED if any(r["verdict"] == "fail" for r in results) else 0)


LARGEST_TRACES = 256 * 1024 * 1024
"""Bytes of the largest file of traces that is scored."""


def _read_traces(path: Path) -> list[tuple[str, Trace]]:
    """The traces of a file, each with its place: one as JSON, or many as JSON lines."""
    try:
        text = read_bytes(path, LARGEST_TRACES)
    except OSError as error:
        fail(WRONG_USE, f"{path}: {error.strerror}")
    except IntakeError as error:
        fail(WRONG_USE, f"{path}: {error}")
    lines = [(n, line) for n, line in enumerate(text.splitlines(), 1) if line.strip()]
    if len(lines) < 2 or not all(line.startswith(b'{"') for _, line in lines):
        return [(str(path), _validated(str(path), text))]
    return [(f"{path}:{n}", _validated(f"{path}:{n}", line)) for n, line in lines]


def _validated(place: str, text: bytes) -> Trace:
    try:
        return TRACE.validate_python(read_json(text))
    except IntakeError as error:
        fail(WRONG_USE, f"{place}: {error}")
    except ValidationError as error:
        fault = error.errors()[0]
        where = "/".join(str(part) for part in fault["loc"])
        fail(WRONG_USE, f"{place}: /{where}: {fault['msg']}")


def _score_trace(suite: Suite, path: str, trace: Trace) -> Any:
    place = next((i for i, t in enumerate(suite.tasks) if t.task == trace["task"]), None)
    if place is None:
        known = ", ".join(t.task for t in suite.tasks)
        fail(WRONG_USE, f"{path}: task `{trace['task']}` is not in the suite; there is {known}")
    try:
        return score_trace(compile_script(suite, suite.tasks[place]), trace)
    except ValueError as error:  # the trace's clock or zone is none
        fail(WRONG_USE, f"{path}: {error}")
