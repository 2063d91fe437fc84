"""Manners: how often a stand-in slips, and in which ways."""

from __future__ import annotations

from ferox.formats.stand_in import Manner

MANNERS: dict[str, Manner] = {
    "steady": Manner(),
    "hasty": Manner(
        look_alike=0.3,
        missing_argument=0.08,
        mistyped_argument=0.1,
        extra_argument=0.1,
        unknown_tool=0.08,
        out_of_order=0.15,
        no_confirmation=0.5,
        ignored_error=0.5,
        skipped_step=0.12,
        from_memory=0.2,
    ),
    "forgetful": Manner(skipped_step=0.3, missing_argument=0.25, repeated_call=0.3),
    "stubborn": Manner(repeated_call=0.5, never_stops=0.3, ignored_error=0.3),
}
"""The manners that every stand-in has; a stand-in's file may change or add some."""
