"""Looks at models, and how far they are."""

from __future__ import annotations

import asyncio

from ferox.formats.workspace import ModelSource
from ferox.gateway.model_seam.model_check import Finding, look_at_model, look_at_price
from ferox.servers.by_hand.watched import Watched
from ferox.web.models import shapes


class RunningLook(Watched):
    """A look at a model that goes on, or is over."""

    def __init__(self, model: str, source: ModelSource) -> None:
        super().__init__()
        self._model, self._source = model, source
        self._findings: list[Finding] = []
        self._task = asyncio.create_task(self._carry_out())

    async def _carry_out(self) -> None:
        try:
            async for finding in look_at_model(self._model, self._source):
                self._note(finding)
            self._note(look_at_price(self._source))
        except Exception as error:
            self._note(Finding(False, f"Ferox itself failed: {type(error).__name__}: {error}"))
        finally:
            self.note_change(over=True)

    def _note(self, finding: Finding) -> None:
        self._findings.append(finding)
        self.note_change()

    def stop(self) -> None:
        """Ask no further."""
        self._task.cancel()

    def shape(self, number: str) -> shapes.LookShape:
        """The look as the screen shows it."""
        return shapes.LookShape(
            id=number,
            version=self.version,
            model=self._model,
            going=not self.over,
            findings=[shapes.FindingShape(**vars(f)) for f in self._findings],
        )
