"""`ferox gather`: the parts of a run that several machines carried out, as one."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from ferox.bringing.gathering import GatheringError, gather_files
from ferox.cli.ending import end_run, ending_options, read_ending
from ferox.cli.output import COULD_NOT_RUN, WRONG_USE, fail, new_console, say
from ferox.cli.workspace_argument import split_workspace
from ferox.core.naming import counted_noun
from ferox.store.database import StoreError, open_database


@click.command("gather")
@click.argument(
    "paths", metavar="[WORKSPACE] FILE...", nargs=-1, required=True,
    type=click.Path(path_type=Path),
)  # fmt: skip
@click.option("--partial", is_flag=True, help="Do without trials that are missing.")
@ending_options
def gather(paths: tuple[Path, ...], partial: bool, **asked_ending: Any) -> None:
    """Put the parts of a run together that several machines carried out.

    FILE is what `ferox run --shard PART/PARTS --save FILE` wrote on each of them. The run is kept
    in the workspace, its board printed, and its line held as by `ferox run`.
    """
    root, files = split_workspace(paths)
    try:
        engine = open_database(root.absolute())
        ending = read_ending(engine, **asked_ending)
        gathered = gather_files(engine, files, partial=partial)
    except GatheringError as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    missing = f"; {gathered.missing} missing" if gathered.missing else ""
    files_text = counted_noun(len(files), "file")
    trials = counted_noun(gathered.trials, "trial")
    say(f"run {gathered.run}: {trials} gathered from {files_text}{missing}")
    end_run(new_console(), engine, root.absolute(), run=gathered.run, ending=ending)
