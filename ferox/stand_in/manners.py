"""Manners: how often a stand-in slips, and in which ways."""

from __future__ import annotations

from ferox.formats.stand_in import Manner, StandInFile

MANNERS: dict[str, Manner] = {
    "steady": Manner(),
    "hasty": Manner(
        look_alike=0.2,
        missing_argument=0.05,
        mistyped_argument=0.08,
        extra_argument=0.05,
        unknown_tool=0.05,
        out_of_order=0.1,
        no_confirmation=0.4,
        ignored_error=0.5,
        skipped_step=0.08,
        from_memory=0.12,
    ),
    "forgetful": Manner(skipped_step=0.3, missing_argument=0.25, repeated_call=0.3),
    "stubborn": Manner(repeated_call=0.5, never_stops=0.3, ignored_error=0.3),
}
"""The manners that every stand-in has; a stand-in's file may change or add some."""


def manners_of(document: StandInFile | None) -> dict[str, Manner]:
    """The manners of a stand-in, by name: every stand-in's, and those of its own file."""
    return {**MANNERS, **(document.manners if document else {})}
