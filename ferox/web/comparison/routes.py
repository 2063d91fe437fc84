"""B against A, for the screens."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ferox.core.comparison.verdict import SAME_WITHIN
from ferox.formats.comparison import ComparisonReport
from ferox.runs.comparison import ComparisonError, SideName, compare_sides, report_of
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import read_session
from ferox.store.runs import newest_runs
from ferox.web.responses import RequestRefused
from ferox.web.routing import Routes
from ferox.web.site import site

MOST_RUNS = 100

routes = Routes("comparison")


class CompareQuery(BaseModel):
    """Two sides, each a run or an agent in one: `12`, `12:duty-officer`."""

    a: str
    b: str
    same_within: float = Field(default=SAME_WITHIN, gt=0, le=1)


class ComparableRun(BaseModel):
    """A run, and the agents in it."""

    run: int
    title: str
    created_at: float
    agents: list[str]


class ComparableRuns(BaseModel):
    """What can be compared: the newest runs."""

    runs: list[ComparableRun]


@routes.get("/api/compare")
def compare_two(query: CompareQuery) -> ComparisonReport:
    """Whether B is better than A, where, and how far it can be believed."""
    with read_session(site.engine) as session:
        try:
            a, b = SideName.parse(query.a), SideName.parse(query.b)
            return report_of(compare_sides(session, a, b, query.same_within))
        except ComparisonError as error:
            raise RequestRefused(422, str(error)) from None


@routes.get("/api/compare/runs")
def comparable_runs() -> ComparableRuns:
    """The newest runs and their agents, to choose from."""
    with read_session(site.engine) as session:
        return ComparableRuns(
            runs=[
                ComparableRun(
                    run=run.id,
                    title=run.title,
                    created_at=run.created_at,
                    agents=list(snapshot_of(session, run.id).agents),
                )
                for run in newest_runs(session, most=MOST_RUNS)
            ]
        )
