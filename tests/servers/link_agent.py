"""An agent over the process link, in plain Python: `link_agent.py HOW`."""

import json
import sys
import time


def say(**message: object) -> None:
    sys.stdout.write(json.dumps(message) + "\n")
    sys.stdout.flush()


def turn(how: str, words: dict[str, object], text: str) -> None:
    match how:
        case "rubbish":
            sys.stdout.write("tide tide\n[1]\n\n")
        case "fails":
            say(op="failed", reason="the book is closed")
            return
        case "dies":
            print("no book", file=sys.stderr)
            sys.exit(4)
        case "hangs":
            time.sleep(60)
        case "asks":
            say(op="ask", id="7", tool="harbour/assign_berth", args={"berth": "N1"})
            decided = json.loads(sys.stdin.readline())
            say(op="local_call", tool="note", args={}, result=decided["args"], ms=1.5, by="clerk")
            say(op="partial", text="Well")
            text = decided["decision"]
    say(op="reply", text=f"{words['instructions']} {text}", data={"n": 1}, unknown="field")


def main(how: str) -> None:
    document: dict[str, object] = {}
    for line in sys.stdin:
        message = json.loads(line)
        match message["op"]:
            case "open" if how == "refuses":
                say(op="failed", reason="no desk today")
            case "open" if how == "slow":
                time.sleep(60)
            case "open":
                document = message
                say(op="ready")
            case "turn":
                turn(how, document, message["text"])
            case "close":
                say(op="closed")


if __name__ == "__main__":
    main(sys.argv[1])
