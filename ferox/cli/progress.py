"""A bar on standard error while a command works, where that is a terminal."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from rich.console import Console
from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn


@contextmanager
def follow_progress(noun: str) -> Iterator[Callable[[int, int], None]]:
    """Show how many of how many are done; what it gives is called with both."""
    console = Console(stderr=True)
    columns = (BarColumn(), MofNCompleteColumn(), TextColumn(noun), TimeRemainingColumn())
    quiet = not console.is_terminal
    with Progress(*columns, console=console, transient=True, disable=quiet) as bar:
        task = bar.add_task("", total=None)
        yield lambda done, total: bar.update(task, completed=done, total=total)


@contextmanager
def show_progress(total: int, noun: str) -> Iterator[Callable[[], None]]:
    """Show how many of `total` are done; what it gives is called after each."""
    with follow_progress(noun) as note:
        done = 0

        def step() -> None:
            nonlocal done
            done += 1
            note(done, total)

        yield step
