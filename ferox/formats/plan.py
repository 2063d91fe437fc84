"""A plan: what is varied, over which agents and tasks, and how often each task is repeated."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from ferox.formats.base import Document, Json, Name, Offer, Strict
from ferox.formats.fault import Fault
from ferox.formats.server import ToolWording

AS_IS = "as_is"
"""A value that changes nothing."""
MOST_LOOKS = 10
"""Looks at a run that stops once it is decided; the boundary is known for so many."""
FIRST_LOOK = 2
"""Repeats before which nothing is known of how far trials of a task differ."""

TaskAddress = Annotated[str, StringConstraints(pattern=r"^[^/\s]+/[^/\s]+$")]
"""A task: `suite/task`."""
Wordings = dict[Name, dict[str, ToolWording]]
"""What agents read, by server and tool."""


class Decoys(Strict):
    """Tools that no task needs, added to the offer."""

    from_: Name = Field(alias="from")
    """A mocked server that no task of the plan uses."""
    add: list[Annotated[int, Field(ge=0)]] = Field(min_length=1)
    """How many; the fewer are among the more."""


class FaultsInstead(Strict):
    """Faults in place of the task's own."""

    instead: list[Fault]


class Vary(Strict):
    """Dimensions: each a list of values, or values by their names."""

    model: list[Name] | dict[Name, Name] = []
    """Models of the workspace, in place of the agent's `model`."""
    instructions: dict[Name, str] = {}
    """A text, a path to one, or `as_is`."""
    offer: dict[Name, Literal["as_is", "none"] | Offer] = {}
    """`as_is`, `none`, or tools by server."""
    wording: dict[Name, Literal["as_is"] | Wordings] = {}
    """By server and tool, over the servers' own `wording`."""
    server: dict[Name, list[Name]] = {}
    """Modes or variants of servers; each server is a dimension of its own."""
    decoys: Decoys | None = None
    """Tools from a server that no task needs."""
    faults: dict[Name, Literal["as_is", "none"] | list[Fault] | FaultsInstead] = {}
    """Laid over every task, after the task's own; `none`: without those; or `instead` of them."""
    params: dict[Name, dict[str, Json]] = {}
    """Over the agent's own `params`."""


class Baseline(Strict):
    """The value of each dimension that others are compared with."""

    model: Name | None = None
    instructions: Name | None = None
    offer: Name | None = None
    wording: Name | None = None
    server: dict[Name, Name] = {}
    decoys: int | None = None
    faults: Name | None = None
    params: Name | None = None


class Until(Strict):
    """A run that ends as soon as its question is decided."""

    looks: list[Annotated[int, Field(ge=FIRST_LOOK)]] = Field(min_length=1, max_length=MOST_LOOKS)
    """After how many repeats of every task each arm is compared with the baseline."""
    same_within: float = Field(0.05, gt=0, le=1)
    """A difference of pass rates that does not matter."""

    @model_validator(mode="after")
    def _check_rising(self) -> Self:
        if any(b <= a for a, b in zip(self.looks, self.looks[1:], strict=False)):
            raise ValueError("`looks` must rise: each after more repeats than the one before")
        return self


class PlanFile(Document):
    """Named variations to run: every combination of agent and values is an arm."""

    plan: Name
    """The plan's name."""
    title: str | None = None
    """What it asks, in a line."""
    suites: list[Name] = []
    """Whole suites to run; or `tasks`."""
    tasks: list[TaskAddress] = []
    """Single tasks, `suite/task`; or `suites`."""
    agents: list[Name] = Field(min_length=1)
    """Agents whose variations are run."""
    vary: Vary = Vary()
    """What is varied."""
    design: Literal["full", "one_at_a_time"] = "full"
    """full: every combination; one_at_a_time: the baseline, and each other value by itself."""
    baseline: Baseline = Baseline()
    """What others are compared with; a dimension left out: its first value."""
    trials: int | None = Field(None, ge=1, le=1000)
    """Repeats of each task; left out: the workspace's default."""
    until: Until | None = None
    """Instead of `trials`: rounds that end once an arm is decided."""
    mends: TaskAddress | None = None
    """Of a plan that was made from a failing trial: its task. Its arms are read as what would mend
    it."""

    @model_validator(mode="after")
    def _check_choices(self) -> Self:
        if bool(self.suites) == bool(self.tasks):
            raise ValueError("a plan has either `suites` or `tasks`")
        if self.trials is not None and self.until is not None:
            raise ValueError("a plan has either `trials` or `until`")
        return self

    @property
    def suites_used(self) -> list[str]:
        """The suites that its tasks come from, each once."""
        return self.suites or list(dict.fromkeys(task.split("/", 1)[0] for task in self.tasks))
