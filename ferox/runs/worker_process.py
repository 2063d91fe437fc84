"""Starting workers: processes that carry out what they are handed the claim of."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from ferox.runs.run_lock import RunLock
from ferox.store.database import results_folder


def start_worker_process(
    module: str, workspace: Path, number: int, *, log: str, lock: RunLock
) -> subprocess.Popen[bytes]:
    """Start `module` for a numbered work whose claim `lock` holds and hands over; it outlives this
    process. `log`: the name of its log among the results."""
    held = lock.descriptor
    with (results_folder(workspace) / f"{log}.log").open("ab") as file:
        return subprocess.Popen(
            [sys.executable, "-m", module, str(workspace), str(number), str(held)],
            stdin=subprocess.DEVNULL,
            stdout=file,
            stderr=file,
            pass_fds=(held,),
            # Ctrl-C in a terminal is for the command there, which then stops the work in order.
            start_new_session=True,
        )
