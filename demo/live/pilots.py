"""The pilots' own tool server at Skerrow Sound: a real one, over standard input and output.

It keeps its requests in memory, so every start begins with none.
"""

from __future__ import annotations

from mcp.server.fastmcp import Context, FastMCP
from mcp.types import ToolAnnotations
from pydantic import BaseModel, Field

server = FastMCP("pilots", instructions="Times are UTC. A pilot is asked for two hours ahead.")
READS = ToolAnnotations(readOnlyHint=True)
NAMES = ["Ines Calder", "Joss Merrow", "Tam Oakley", "Rhea Finch", "Ola Strand", "Bea Holm"]
GROUNDS = ["Outer Skerry", "Kettle Bank", "North Gut"]
requests: dict[str, dict[str, str]] = {}


class Ground(BaseModel):
    """Where the pilot boards."""

    ground: str = Field(description="Boarding ground", json_schema_extra={"enum": GROUNDS})


@server.tool(annotations=READS)
def pilot_roster(day: str) -> dict[str, list[dict[str, str | int]]]:
    """Pilots on duty on one day, watch by watch, with the largest draught each may bring in."""
    start = sum(map(ord, day)) % len(NAMES)
    rows: list[dict[str, str | int]] = [
        {
            "from": f"{4 * (i // 3):02}:00",
            "to": f"{4 * (i // 3) + 4:02}:00",
            "pilot": NAMES[(start + i) % len(NAMES)],
            "ground": GROUNDS[i % 3],
            "max_draught_dm": 60 + 10 * ((start + i) % 4),
        }
        for i in range(18)
    ]
    return {"watches": rows}


@server.tool()
async def request_pilot(imo: str, time: str, ctx: Context, ground: str | None = None) -> str:
    """Ask for a pilot for a vessel at one moment; gives the number of the request."""
    if ground is None:
        asked = await ctx.elicit("Where is the pilot to board?", Ground)
        if asked.action != "accept":
            return "No pilot was asked for: nobody said where to board."
        ground = asked.data.ground
    number = f"PR{2001 + len(requests)}"
    requests[number] = {"imo": imo, "time": time, "ground": ground}
    return f"{number}: a pilot for {imo} at {ground}, {time}."


@server.tool(annotations=ToolAnnotations(destructiveHint=True, idempotentHint=True))
def cancel_pilot(number: str) -> str:
    """Cancel a request for a pilot by its number."""
    if number not in requests:
        raise ValueError(f"no request {number}")
    del requests[number]
    return f"{number} is cancelled."


@server.resource("pilots://standing-orders", mime_type="text/plain")
def standing_orders() -> str:
    """The pilots' standing orders."""
    return (
        "1. No boarding at Outer Skerry above force 7.\n"
        "2. Two hours' notice; one hour for vessels under 60 m.\n"
        "3. The North Gut is closed at low water springs."
    )


@server.resource("pilots://ground/{ground}")
def boarding_ground(ground: str) -> str:
    """One boarding ground."""
    return f"{ground}: 1.2 miles off, VHF 12."


@server.prompt()
def handover(day: str) -> str:
    """Words for handing the watch over."""
    return f"Sum up the pilot requests of {day} for the next watch, the earliest first."


if __name__ == "__main__":
    server.run()
