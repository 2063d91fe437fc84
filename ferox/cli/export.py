"""`ferox digest` and `ferox export`: stored trials as text, as files, and sent to a collector."""

from __future__ import annotations

import sys
from pathlib import Path

import click

from ferox.cli.output import COULD_NOT_RUN, STOPPED, WRONG_USE, fail, say
from ferox.cli.progress import show_progress
from ferox.cli.secrets import ask_to_agree
from ferox.cli.workspace_argument import WorkspaceFirst, workspace_argument
from ferox.core.digest import summarize_trial
from ferox.core.naming import counted_noun
from ferox.exports.sending import Encoding, SendingError, collector_address, send_trials
from ferox.exports.writing import export_to_file, write_export
from ferox.store.database import Session, StoreError, database_path, open_database
from ferox.store.results import read_result
from ferox.store.runs import find_run, newest_run_number
from ferox.store.traces import read_trace
from ferox.store.trials import find_trial, finished_numbers
from ferox.workspace.vault import SecretUse, UnsetSecret, address_origin, current_vault


def open_results(workspace: Path) -> Session:
    """A session with the results of a workspace; ends the command if there are none."""
    root = workspace.absolute()
    if not database_path(root).is_file():
        fail(WRONG_USE, f"{root} has no results yet; `ferox run` makes some")
    try:
        return Session(open_database(root))
    except StoreError as error:
        fail(COULD_NOT_RUN, error)


def _finished_trials(session: Session, run: int, trial: int | None) -> list[int]:
    """The finished trials of a run, or one of them; ends the command if it is not there."""
    check_run(session, run)
    finished = finished_numbers(session, run)
    if trial is None:
        return finished
    one = find_trial(session, trial)
    if one is None:
        fail(WRONG_USE, f"there is no trial {trial}; trials have the numbers of their addresses")
    if one.run_id != run:
        fail(WRONG_USE, f"trial {trial} is of run {one.run_id}, not of run {run}")
    return [trial] if trial in finished else []


def check_run(session: Session, run: int) -> None:
    """See that a run is there; ends the command if it is not."""
    if find_run(session, run) is None:
        newest = newest_run_number(session)
        there = f"; the newest is {newest}" if newest else ""
        fail(WRONG_USE, f"there is no run {run}{there}")


@click.command("digest", cls=WorkspaceFirst)
@workspace_argument
@click.argument("run", type=int)
@click.argument("trial", type=int)
def print_digest(workspace: Path, run: int, trial: int) -> None:
    """Print TRIAL of RUN in plain text, short enough to paste into a message."""
    with open_results(workspace) as session:
        for one in _finished_trials(session, run, trial):
            trace, result = read_trace(session, one), read_result(session, one)
            if trace is not None and result is not None:
                say(summarize_trial(trace, result), nl=False)
                return
    fail(WRONG_USE, f"trial {trial} is not finished yet")


@click.command("export", cls=WorkspaceFirst)
@workspace_argument
@click.argument("run", type=int)
@click.option(
    "--format", "form", type=click.Choice(["traces", "results", "csv", "junit", "otlp", "run"]),
    default="traces", show_default=True,
    help="traces, results: JSON lines, a trial each; csv: a table, a trial each; junit: XML for a "
    "build server, a case for each task; otlp: OpenTelemetry spans as JSON lines; run: all "
    "that `ferox gather` needs.",
)  # fmt: skip
@click.option(
    "--brief", is_flag=True,
    help="Of results: a line for each task and agent, sorted, to keep as a baseline.",
)  # fmt: skip
@click.option(
    "--each", type=click.Choice(["task", "trial"]), default="task", show_default=True,
    help="Of junit: a case for each task, or for each trial.",
)  # fmt: skip
@click.option("--trial", type=int, help="Only this trial; left out: all that are finished.")
@click.option(
    "-o", "--out", type=click.Path(path_type=Path), help="Write here; left out: to the output."
)
@click.option(
    "--to", "to", metavar="URL", help="Send spans to a collector, as OTLP over HTTP; see --format."
)
@click.option(
    "--encoding", type=click.Choice(["protobuf", "json"]), default="protobuf", show_default=True,
    help="How spans are sent.",
)  # fmt: skip
@click.option(
    "--header", "headers", multiple=True, metavar="NAME=SECRET",
    help="A header of what is sent: its name, and the secret of the workspace that it holds.",
)  # fmt: skip
def export(
    workspace: Path,
    run: int,
    form: str,
    brief: bool,
    each: str,
    trial: int | None,
    out: Path | None,
    to: str | None,
    encoding: Encoding,
    headers: tuple[str, ...],
) -> None:
    """Write the trials of RUN for other programs, or send them to a collector.

    A file is there when all of it is, or not at all; Ctrl-C stops.
    """
    _check_options(form, brief=brief, each=each, to=to, out=out, headers=headers)
    with open_results(workspace) as session:
        chosen = _finished_trials(session, run, trial)
        if not chosen:
            fail(WRONG_USE, f"run {run} has no finished trial to write")
        if to is not None:
            _send_spans(session, chosen, to, encoding=encoding, headers=headers)
            return
        given = {"numbers": chosen, "each_trial": each == "trial" or trial is not None}
        wanted = "baseline" if brief else form
        if out is None:
            write_export(session, run, sys.stdout, wanted, **given)  # type: ignore[arg-type]
            return
        try:
            with show_progress(len(chosen), "trials") as done:
                export_to_file(session, run, out, wanted, **given, done=done)  # type: ignore[arg-type]
        except OSError as error:
            fail(COULD_NOT_RUN, f"{out}: {error.strerror}")
        except KeyboardInterrupt:
            fail(STOPPED, f"stopped; {out} is as it was")


def _check_options(
    form: str,
    *,
    brief: bool,
    each: str,
    to: str | None,
    out: Path | None,
    headers: tuple[str, ...],
) -> None:
    """See that options go together; ends the command if they do not."""
    if brief and form != "results":
        fail(WRONG_USE, "--brief goes with --format results")
    if each != "task" and form != "junit":
        fail(WRONG_USE, "--each goes with --format junit")
    if to is not None and (form != "otlp" or out is not None):
        fail(WRONG_USE, "--to sends spans: it goes with --format otlp, and without --out")
    if headers and to is None:
        fail(WRONG_USE, "--header goes with --to")


def _send_spans(
    session: Session, chosen: list[int], to: str, *, encoding: Encoding, headers: tuple[str, ...]
) -> None:
    try:
        address = collector_address(to)
        with show_progress(len(chosen), "trials") as done:
            taken = send_trials(
                session, chosen, to, done, headers=_header_values(headers, address),
                encoding=encoding,
            )  # fmt: skip
    except SendingError as error:
        fail(COULD_NOT_RUN, error)
    except KeyboardInterrupt:
        fail(STOPPED, "stopped; what was sent stays sent")
    trials = counted_noun(len(chosen), "trial")
    say(f"{trials} sent to {address}: {counted_noun(taken, 'span')} taken")


def _header_values(given: tuple[str, ...], address: str) -> dict[str, str]:
    """Headers with the secrets that they hold, which may go to the collector."""
    named = {}
    for pair in given:
        name, equals, secret = pair.partition("=")
        if not (name and equals and secret):
            fail(WRONG_USE, f"--header {pair}: write NAME=SECRET, as in X-Api-Key=COLLECTOR_KEY")
        named[name] = secret
    origin, vault = address_origin(address), current_vault()
    ask_to_agree(vault.unagreed_uses([SecretUse(secret, origin) for secret in named.values()]))
    try:
        return {
            name: vault.secret_value(f"--header {name}", secret, origin)
            for name, secret in named.items()
        }
    except UnsetSecret as error:
        fail(WRONG_USE, error)
