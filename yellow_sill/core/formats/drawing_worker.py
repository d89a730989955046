"""A drawing of a stranger read in a process of its own, which gives itself little time and memory.

``python -m yellow_sill.core.formats.drawing_worker`` reads a line of JSON (name, at, unit), then the file, from standard input; it writes
JSON: the corners, or what is refused.
"""

import json
import resource
import sys
from typing import Any

from ..errors import CoreError
from ..said import Said, apart
from .outlines import outline_from_file

#: What a drawing may cost: time of the processor, s, and memory beside that of the libraries, bytes.
MOST_S, MOST_MEMORY = 3, 300_000_000


def _limit() -> None:
    """From here on no more than that; what is loaded already does not count."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    seconds = int(used.ru_utime + used.ru_stime + 1) + MOST_S
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 1))
    resource.setrlimit(resource.RLIMIT_DATA, (_data_bytes() + MOST_MEMORY,) * 2)
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def _data_bytes() -> int:
    """What this process holds already, as the limit counts it."""
    with open("/proc/self/status") as told:  # noqa: PTH123 - a file of the system
        return next((int(line.split()[1]) * 1024 for line in told if line.startswith("VmData")), 0)


def _plain(message: str) -> Any:
    return apart(message) if isinstance(message, Said) else message


def main() -> None:
    asked = json.loads(sys.stdin.buffer.readline())
    data = sys.stdin.buffer.read()
    if asked["name"].lower().endswith(".svg"):  # loaded before anything is limited, and only what is needed
        import svgelements  # noqa: F401
    else:
        import ezdxf.path
        import ezdxf.recover  # noqa: F401
    _limit()
    try:
        told: dict[str, Any] = {"corners": outline_from_file(data, asked["name"], asked["at"], asked["unit"])}
    except CoreError as error:
        told = {
            "error": {
                "code": error.code,
                "what": _plain(error.what),
                "where": error.where,
                "mend": _plain(error.mend),
                "at": error.at,
            }
        }
    sys.stdout.write(json.dumps(told))


if __name__ == "__main__":
    main()
