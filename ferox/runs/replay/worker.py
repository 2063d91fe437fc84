"""The worker of a replay: carries it out apart from the web process.

Started as `python -m ferox.runs.replay.worker WORKSPACE REPLAY LOCK`, the last a file descriptor.
"""

from __future__ import annotations

import sys
from pathlib import Path

from ferox.processes.starting import adopt_orphans, end_orphans
from ferox.runs.replay.kept_replay import carry_out_replay
from ferox.runs.run_lock import RunLock
from ferox.store.database import open_database
from ferox.workspace.vault import open_vault


def main(arguments: list[str]) -> int:
    """Carry out the replay whose lock this process was given."""
    root, replay = Path(arguments[0]), int(arguments[1])
    RunLock(root).adopt(int(arguments[2]))
    adopt_orphans()
    try:
        open_vault(root)
        carry_out_replay(open_database(root), root, replay)
    finally:
        end_orphans()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
