"""`ferox` and its commands, each loaded when it is called: what most need takes long to import.

Exit status: 0 success, 1 checks failed, 2 wrong use or a file that does not load,
3 it could not run.
"""

from __future__ import annotations

import gc
import importlib
import os
from pathlib import Path
from types import MappingProxyType

import click

import ferox
from ferox.cli.output import Guarded
from ferox.intake.collector import collector_at_rest

# Pydantic looks through every installed package for plugins, which no model here has.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")

COMMANDS = MappingProxyType(
    {
        "again": ("run:run_again", "Run again what failed in a run."),
        "agree": ("secrets:agree", "Let a secret go to an address."),
        "allow": ("secrets:allow", "Let workspaces use a variable of the environment."),
        "bring": ("bring:bring", "Bring in traces from elsewhere, and judge them."),
        "compare": ("compare:compare_runs", "Say whether B is better than A."),
        "completion": ("completing:print_completion", "Print what completes ferox in a shell."),
        "digest": ("export:print_digest", "Print a trial in plain text."),
        "drift": ("recording:drift", "Ask a live server a recording's calls again."),
        "export": ("export:export", "Write a run's trials for other programs."),
        "fork": ("fork:fork", "Go on from a place in a trial, with one thing changed or none."),
        "gather": ("gather:gather", "Put the parts of a run together as one."),
        "mend": ("mend:mend", "Find what would mend a failing task."),
        "new": ("new:new", "Make a workspace that runs at once."),
        "probe": ("probe:probe_agent", "See whether an agent starts, and what it is offered."),
        "ready": ("ready:ready", "See whether the machines of a cluster have what a run needs."),
        "record": ("recording:record", "Record what passes to and from a live server."),
        "replay": ("replay:replay", "Play a run's trials back to its agents as they are today."),
        "report": ("report:report", "Tell what a run came to, as a page or as markdown."),
        "resume": ("run:resume", "Finish a stopped or interrupted run."),
        "run": ("run:run", "Run agents × tasks × trials, and print the board."),
        "score": ("score:score", "Score traces against a suite."),
        "serve": ("serve:serve", "Serve the web application."),
        "shim": ("recording:shim", "Lead a client that starts its servers to a recording relay."),
        "shrink": ("shrink:shrink", "Find the smallest task with which a trial still fails."),
        "stand-in": ("stand_in:make_stand_in", "Write a simulated model that carries out a suite."),
        "try": ("try_agent:try_agent", "Talk to an agent by hand."),
        "verify": ("verify:verify", "Check every file of a workspace."),
    }
)
"""Each command: its module in `ferox.cli` with its function, and its line in `ferox --help`."""


class CommandGroup(Guarded):
    """Finds commands in `COMMANDS`."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        """Every command, by name."""
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        """A command by its name; None if there is none."""
        if cmd_name not in COMMANDS:
            return None
        module, _, function = COMMANDS[cmd_name][0].partition(":")
        with collector_at_rest():
            loaded = importlib.import_module(f"ferox.cli.{module}")
        gc.freeze()  # what is loaded stays
        command: click.Command = getattr(loaded, function)
        return command

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        """List the commands without loading them."""
        with formatter.section("Commands"):
            formatter.write_dl([(name, line) for name, (_, line) in COMMANDS.items()])


@click.group(cls=CommandGroup, invoke_without_command=True)
@click.version_option(ferox.__version__)
@click.pass_context
def main(context: click.Context) -> None:
    """Find out how an agent, built with any framework, chooses and calls tools.

    A WORKSPACE is a folder with a ferox.yaml, agents, servers and tasks. Without a command: what
    there is in this folder, and what to do next.
    """
    if context.invoked_subcommand is None:
        from ferox.cli.here import say_what_is_here

        say_what_is_here(Path())
