"""`python -m bench [NAME…]` prints figures as they come: what was measured, its bound, and the
ratio. A name is one of this folder's modules; without any, all are measured."""

from __future__ import annotations

import asyncio
import inspect
import sys
from collections.abc import Awaitable, Callable

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

Lines = str | list[str]
MEASURES: dict[str, tuple[Callable[[], Lines | Awaitable[Lines]], ...]] = {
    "tool_seam": (tool_seam.measure,),
    "recordings": (recordings.relayed, recordings.opening),
    "model_seam": (model_seam.measure,),
    "trials": (trials.measure,),
    "warm": (warm.measure,),
    "replaying": (replaying.measure,),
    "scoring": (scoring.measure,),
    "rescoring": (rescoring.measure,),
    "checking": (checking.measure,),
    "editor": (editor.measure,),
    "screens": (screens.measure, screens.boards, screens.long_trial),
    "comparing": (comparing.measure,),
    "exporting": (exporting.measure,),
    "starting": (starting.measure,),
    "disk": (disk.measure, disk.growth),
    "clusters": (clusters.measure,),
}


def main(names: list[str]) -> None:
    """Measure and print, one line a figure."""
    unknown = [name for name in names if name not in MEASURES]
    if unknown:
        sys.exit(f"no figure is named {', '.join(unknown)}; there are {', '.join(MEASURES)}")
    for name in names or MEASURES:
        for measure in MEASURES[name]:
            found = measure()
            lines = asyncio.run(_awaited(found)) if inspect.isawaitable(found) else found
            for line in [lines] if isinstance(lines, str) else lines:
                print(line, flush=True)


async def _awaited(found: Awaitable[Lines]) -> Lines:
    return await found


if __name__ == "__main__":
    main(sys.argv[1:])
