"""Work in a thread that a screen follows, and that can be stopped."""

from __future__ import annotations

import asyncio
import threading
import time
from abc import abstractmethod
from typing import ClassVar, Literal

from ferox.servers.by_hand.watched import Watched

EVERY_S = 0.1
"""Seconds between two changes that are noted, however fast the work goes."""
AT_ONCE_S = 0.3
"""Seconds that whoever starts a job waits: most are over by then."""
JobState = Literal["waiting", "running", "done", "failed", "stopped"]


class JobStopped(Exception):
    """The work was asked to stop."""


class Job(Watched):
    """Work of so many steps: waiting, going on, or over."""

    FAILURES: ClassVar[tuple[type[Exception], ...]] = ()
    """What may fail in words of its own."""

    def __init__(self) -> None:
        super().__init__()
        self.state: JobState = "waiting"
        self.message: str | None = None
        self.done = self.total = 0
        self._stop = threading.Event()
        self._noted = 0.0
        self._task: asyncio.Task[None] | None = None

    @abstractmethod
    def work(self) -> None:
        """Do it, in a thread; `step` is called now and then."""

    async def start(self) -> None:
        """Begin, and wait a moment: most is over by then."""
        self.state = "running"
        self._loop = asyncio.get_running_loop()
        self._task = asyncio.create_task(self._carry_out())
        await asyncio.wait({self._task}, timeout=AT_ONCE_S)

    async def _carry_out(self) -> None:
        try:
            await asyncio.to_thread(self.work)
            self.state = "done"
        except JobStopped:
            self.state = "stopped"
        except self.FAILURES as error:
            self.state, self.message = "failed", str(error)
        except OSError as error:
            self.state, self.message = "failed", error.strerror or str(error)
        except Exception as error:
            self.state = "failed"
            self.message = f"Ferox itself failed: {type(error).__name__}: {error}"
        self.note_change(over=True)

    def step(self, done: int | None = None, total: int | None = None) -> None:
        """Note a step, in the thread of the work.

        Raises:
            JobStopped: it is to stop.
        """
        if self._stop.is_set():
            raise JobStopped
        self.done = self.done + 1 if done is None else done
        self.total = self.total if total is None else total
        now = time.monotonic()
        if now - self._noted >= EVERY_S:
            self._noted = now
            self._loop.call_soon_threadsafe(self.note_change)

    def stop(self) -> None:
        """Have it stop at its next step."""
        self._stop.set()
