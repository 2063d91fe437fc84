"""A worker that cannot judge the second trial of its run."""

import sys
from typing import Any

from ferox.runs import trial_host, worker

judge = trial_host.score_trial


def failing(script: Any, trace: Any) -> Any:
    if trace["trial"] == 2 and len(trace["events"]) > 1:
        raise ZeroDivisionError("no such number")
    return judge(script, trace)


trial_host.score_trial = failing
sys.exit(worker.main(sys.argv[1:]))
