"""Says in plain words, on standard error, which part of ./start stopped and when it is started again. Run by it."""

import sys

from supervisor import childutils

LOGS = "see var/{}.log"
SAID = {
    "PROCESS_STATE_EXITED": "{} stopped by itself and is started again; " + LOGS,
    "PROCESS_STATE_BACKOFF": "{} does not start (try {}); the next try follows after a pause; " + LOGS,
    "PROCESS_STATE_FATAL": "{} does not start and is given up; " + LOGS,
}
NAMES = {
    "web": "The web part",
    "jobs": "The part that does long work",
    "database": "The database",
    "nginx": "What takes in requests",
}


def main() -> None:
    troubled: set[str] = set()
    while True:
        headers, payload = childutils.listener.wait(sys.stdin, sys.stdout)
        said = childutils.get_headers(payload)
        part, event = said["processname"], headers["eventname"]
        name = NAMES.get(said["groupname"], "")
        words = ""
        if name and event in SAID:
            troubled.add(part)
            words = SAID[event].replace("(try {})", f"(try {said.get('tries', '1')})").format(name, part)
        elif part in troubled and event == "PROCESS_STATE_RUNNING":
            troubled.discard(part)
            words = f"{name} runs again."
        if words:
            sys.stderr.write(f"velvet heron: {words}\n")
            sys.stderr.flush()
        childutils.listener.ok(sys.stdout)


if __name__ == "__main__":
    main()
