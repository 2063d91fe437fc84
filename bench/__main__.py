"""`python -m bench` prints every figure: what was measured, its bound, and the ratio."""

from __future__ import annotations

import asyncio

from bench import (
    checking,
    clusters,
    comparing,
    disk,
    editor,
    exporting,
    model_seam,
    recordings,
    replaying,
    rescoring,
    scoring,
    screens,
    starting,
    tool_seam,
    trials,
    warm,
)


def main() -> None:
    """Measure and print, one line a figure."""
    for line in asyncio.run(_lines()):
        print(line)


async def _lines() -> list[str]:
    return [
        await tool_seam.measure(),
        await recordings.relayed(),
        await recordings.opening(),
        await model_seam.measure(),
        await trials.measure(),
        await warm.measure(),
        await replaying.measure(),
        scoring.measure(),
        rescoring.measure(),
        checking.measure(),
        editor.measure(),
        screens.measure(),
        screens.boards(),
        screens.long_trial(),
        comparing.measure(),
        exporting.measure(),
        starting.measure(),
        disk.measure(),
        *disk.growth(),
        *clusters.measure(),
    ]


if __name__ == "__main__":
    main()
