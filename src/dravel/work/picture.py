"""A picture made small in a process of its own: `python -m dravel.work.picture FILE`. What unpacks to more than the memory it may
take, or breaks the library that reads it, ends that process and nothing else. One at a time.
"""

import subprocess
import sys
import threading
from pathlib import Path

from dravel.formats.pictures import NotAPicture, shrunk
from dravel.work.limits import MB, bounded

MEMORY = 1500 * MB  # eighty million pixels, unpacked, turned upright, and the flat copy
_ONE = threading.Lock()
CANNOT = 2


def shrunk_apart(file: Path) -> bytes:
    """As `dravel.formats.pictures.shrunk`, of a file. Raises `NotAPicture`."""
    with _ONE:
        done = subprocess.run(
            [sys.executable, "-m", "dravel.work.picture", str(file)], capture_output=True, check=False,
            stdin=subprocess.DEVNULL,
        )  # fmt: skip
    if done.returncode == 0:
        return done.stdout
    if done.returncode == CANNOT:
        raise NotAPicture(done.stderr.decode("utf-8", "replace").strip())
    raise NotAPicture("reading it took more memory than a picture may, or broke what reads it")


def main(file: str) -> int:
    """Write the small picture to standard output, or to standard error why there is none."""
    bounded(MEMORY)
    try:
        made = shrunk(Path(file).read_bytes())
    except NotAPicture as error:
        sys.stderr.buffer.write(str(error).encode())
        return CANNOT
    except MemoryError:
        return 1
    sys.stdout.buffer.write(made)
    return 0


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
