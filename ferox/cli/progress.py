"""A bar on standard error while a command works, where that is a terminal."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from rich.console import Console
from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn


@contextmanager
def show_progress(total: int, noun: str) -> Iterator[Callable[[], None]]:
    """Show how many of `total` are done; what it gives is called after each."""
    console = Console(stderr=True)
    columns = (BarColumn(), MofNCompleteColumn(), TextColumn(noun), TimeRemainingColumn())
    quiet = not console.is_terminal
    with Progress(*columns, console=console, transient=True, disable=quiet) as bar:
        task = bar.add_task("", total=total)
        yield lambda: bar.advance(task)
