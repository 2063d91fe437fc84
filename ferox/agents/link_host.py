"""Ferox's side in the agent's own interpreter. Only the standard library is used here.

Started as `python link_host.py FILE.py:FACTORY`. It speaks the link protocol, one JSON
object a line, on the standard input and output it was started with. Before anything of
the agent's is imported, standard output is pointed at standard error, so that whatever
the agent prints ends up in its log and never on the protocol's channel.

FACTORY is an async context manager. It takes a `Trial` and yields an async function
from the user's words to the reply: a string, or a pair of a string and structured data.
"""

import asyncio
import importlib.util
import inspect
import json
import os
import signal
import sys
import threading
import traceback
from collections.abc import Callable
from pathlib import Path
from typing import Any, TextIO

Message = dict[str, Any]


class Channel:
    """The protocol's way out, and the approvals that are being waited for."""

    def __init__(self, stream: TextIO) -> None:
        self._stream = stream
        self._lock = threading.Lock()
        self._asks: dict[str, asyncio.Future[tuple[bool, Any]]] = {}
        self._count = 0

    def send(self, **message: Any) -> None:
        """Send one message, from any thread."""
        # What a framework hands over may hold anything; its text is better than no trial.
        line = json.dumps(message, default=str) + "\n"
        # Frameworks call tools from threads of their own, and two lines must not mix.
        with self._lock:
            self._stream.write(line)
            self._stream.flush()

    async def ask_approval(self, tool: str, args: Any) -> tuple[bool, Any]:
        """Ask for an approval and wait for the decision."""
        self._count += 1
        id = str(self._count)
        self._asks[id] = asyncio.get_running_loop().create_future()
        self.send(op="ask", id=id, tool=tool, args=args)
        return await self._asks[id]

    def decide_approval(self, message: Message) -> None:
        """Hand a decision to whoever waits for it."""
        future = self._asks.pop(str(message.get("id")), None)
        if future is not None and not future.done():
            future.set_result((message.get("decision") == "approve", message.get("args")))


class Trial:
    """What the factory is given.

    servers: {name: {"url": …, "transport": "http"}}, the tools' addresses;
    models: {name: {"base_url": …, "api_key": …, "name": …}}, `main` among them;
    instructions: text; now: RFC 3339; params: whatever the agent's file says.
    """

    def __init__(self, message: Message, channel: Channel) -> None:
        self.id: str = message.get("trial", "")
        self.servers: dict[str, dict[str, str]] = message.get("servers", {})
        self.models: dict[str, dict[str, str]] = message.get("models", {})
        self.instructions: str = message.get("instructions", "")
        self.now: str = message.get("now", "")
        self.params: dict[str, Any] = message.get("params", {})
        self._channel = channel

    async def ask_approval(self, tool: str, args: Any) -> tuple[bool, Any]:
        """Ask before a write. Returns whether it may go, and the arguments as perhaps edited."""
        return await self._channel.ask_approval(tool, args)

    def report_words(self, text: str) -> None:
        """Report the words of the reply so far, while it is being written."""
        self._channel.send(op="partial", text=text)

    def report_call(
        self,
        tool: str,
        args: Any,
        result: Any = None,
        is_error: bool = False,
        ms: float = 0.0,
        by: "str | None" = None,
    ) -> None:
        """Report a call of a tool inside the agent, which crosses no seam. `by`: a stage."""
        self._channel.send(
            op="local_call", tool=tool, args=args, result=result, is_error=is_error, ms=ms, by=by
        )


def load_factory(entry: str) -> Callable[[Trial], Any]:
    """The factory that `FILE.py:NAME` names.

    Raises:
        LookupError: the file has nothing of that name; and whatever importing it raises.
    """
    file, _, name = entry.rpartition(":")
    path = Path(file).resolve()
    # As if the file had been run: the agent's own modules beside it are found.
    sys.path.insert(0, str(path.parent))
    spec = importlib.util.spec_from_file_location(path.stem, path)
    if spec is None or spec.loader is None:
        raise LookupError(f"{file} is not a Python file")
    module = importlib.util.module_from_spec(spec)
    sys.modules[spec.name] = module
    spec.loader.exec_module(module)
    factory: Callable[[Trial], Any] | None = getattr(module, name, None)
    if factory is None:
        raise LookupError(f"{path.name} has no `{name}`")
    return factory


def describe_error(error: BaseException) -> str:
    """An error in a line, with the place in the agent's own code where it came up."""
    # Frameworks run things in task groups, which wrap the one error that tells something.
    while isinstance(error, BaseExceptionGroup):
        error = error.exceptions[0]
    frames = traceback.extract_tb(error.__traceback__)
    own = [f for f in frames if "site-packages" not in f.filename and f.filename != __file__]
    own = [f for f in own if not f.filename.startswith(("<", sys.base_prefix))]
    where = f" ({Path(own[-1].filename).name}, line {own[-1].lineno})" if own else ""
    return f"{type(error).__name__}: {error}{where}"


def enter_factory(factory: Callable[[Trial], Any], trial: Trial) -> Any:
    """The factory's context manager.

    Raises:
        TypeError: it makes none; the message says what is missing.
    """
    name = getattr(factory, "__name__", "the factory")
    made = factory(trial)
    inner = getattr(made, "gen", made)
    if inspect.iscoroutine(inner):
        inner.close()
        raise TypeError(f"`{name}` lacks `yield`")
    if inspect.isasyncgen(made):
        raise TypeError(f"`{name}` lacks `@asynccontextmanager`")
    if not hasattr(made, "__aenter__"):
        kind = type(made).__name__
        raise TypeError(f"`{name}` gives a {kind}, not an async context manager")
    return made


async def run_trial(
    factory: Callable[[Trial], Any],
    opening: Message,
    turns: "asyncio.Queue[Message]",
    channel: Channel,
) -> None:
    """One trial, in one task: what a framework enters it must leave in the same task."""
    try:
        async with enter_factory(factory, Trial(opening, channel)) as say:
            channel.send(op="ready")
            while True:
                message = await turns.get()
                await answer_turn(say, message, channel)
    except Exception as error:
        traceback.print_exc()
        channel.send(op="failed", reason=describe_error(error))


async def answer_turn(say: Callable[[str], Any], message: Message, channel: Channel) -> None:
    """One turn. An error of the agent's own is reported, and the conversation stands."""
    try:
        reply = await say(message.get("text", ""))
    except Exception as error:
        traceback.print_exc()
        channel.send(op="failed", reason=describe_error(error))
        return
    text, data = reply if isinstance(reply, tuple) and len(reply) == 2 else (reply, None)
    of = {} if isinstance(text, str) else {"of": type(text).__name__}
    channel.send(op="reply", text="" if text is None else str(text), data=data, **of)


async def serve_trials(
    factory: Callable[[Trial], Any], messages: "asyncio.Queue[Message]", channel: Channel
) -> None:
    """Serve one trial after another; `close` may come at any time."""
    work: asyncio.Task[None] | None = None
    turns: asyncio.Queue[Message] = asyncio.Queue()
    while True:
        message = await messages.get()
        op = message.get("op")
        if op == "open":
            turns = asyncio.Queue()
            work = asyncio.create_task(run_trial(factory, message, turns, channel))
        elif op == "turn":
            turns.put_nowait(message)
        elif op == "decide":
            channel.decide_approval(message)
        elif op == "close":
            if work is not None:
                work.cancel()
                await asyncio.gather(work, return_exceptions=True)
                work = None
            channel.send(op="closed")


def read_lines(
    source: TextIO, loop: asyncio.AbstractEventLoop, messages: "asyncio.Queue[Message]"
) -> None:
    """Pass the protocol's lines on; when the channel ends, so does all of this process."""
    for line in source:
        try:
            message = json.loads(line)
        except ValueError:
            continue
        loop.call_soon_threadsafe(messages.put_nowait, message)
    # Ferox is gone, however it ended. Nothing that this agent started may outlive it.
    os.killpg(os.getpgrp(), signal.SIGKILL)


async def serve_agent(entry: str, source: TextIO, channel: Channel) -> None:
    """Load the agent, say so, and serve trials until the channel ends."""
    messages: asyncio.Queue[Message] = asyncio.Queue()
    reading = (source, asyncio.get_running_loop(), messages)
    # A thread, so that the channel's end is noticed even while the agent blocks the loop.
    threading.Thread(target=read_lines, args=reading, daemon=True).start()
    try:
        factory = load_factory(entry)
    # A file that was written to be run may leave with SystemExit.
    except BaseException as error:
        traceback.print_exc()
        channel.send(op="failed", reason=describe_error(error))
        return
    # Importing a framework takes seconds, which are not a trial's.
    channel.send(op="loaded")
    await serve_trials(factory, messages, channel)


def main() -> None:
    """Take the channel away from the agent, then serve."""
    source = os.fdopen(os.dup(0), encoding="utf-8", errors="replace")
    channel = Channel(os.fdopen(os.dup(1), "w", encoding="utf-8"))
    os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
    os.dup2(2, 1)
    asyncio.run(serve_agent(sys.argv[1], source, channel))


if __name__ == "__main__":
    main()
