"""Every sentence of one rule file said otherwise at random, in a scratch copy, and the tests run there: they hold numbers.

python -m tests.reword src/dravel/core/steps/guiding/rules.py [more files …] [--seed 1] [-- tests and options of pytest …]
"""

import argparse
import ast
import os
import random
import re
import shutil
import subprocess
import sys
from pathlib import Path
from tempfile import TemporaryDirectory

from tools.catalogue import of_rules

HERE = Path(__file__).parents[1]
KEPT = re.compile(r"\{[^{}]*\}|[^\W\d_]+")
SYLLABLES = ("ba", "de", "fi", "go", "lu", "ma", "ne", "pi", "ro", "tu", "va", "ze")


def reworded(words: str, chance: random.Random) -> str:
    """The same sentence in words nobody knows: places, numbers, signs and names in capitals stay."""

    def other(match: re.Match[str]) -> str:
        word = match[0]
        if word.startswith("{") or len(word) < 3 or word.upper() == word:
            return word
        made = "".join(chance.choice(SYLLABLES) for _ in range((len(word) + 1) // 2))
        return made.capitalize() if word[0].isupper() else made

    return KEPT.sub(other, words)


def reword(path: Path, seed: int) -> int:
    """Say a file's sentences otherwise; gives how many."""
    source, chance = path.read_text(encoding="utf-8"), random.Random(seed)
    lines = source.splitlines(keepends=True)
    starts = [sum(len(line.encode()) for line in lines[:n]) for n in range(len(lines))]
    raw, answer = source.encode(), of_rules(ast.parse(source))
    for item in sorted(answer, key=lambda item: (item.lineno, item.col_offset), reverse=True):
        assert item.end_lineno and item.end_col_offset
        first, last = starts[item.lineno - 1] + item.col_offset, starts[item.end_lineno - 1] + item.end_col_offset
        raw = raw[:first] + repr(reworded(str(item.value), chance)).encode() + raw[last:]
    path.write_bytes(raw)
    return len(answer)


def main() -> int:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("files", type=Path, nargs="+")
    asked.add_argument("--seed", type=int, default=1)
    cut = sys.argv.index("--") if "--" in sys.argv else len(sys.argv)
    given, tests = asked.parse_args(sys.argv[1:cut]), sys.argv[cut + 1 :]
    with TemporaryDirectory() as folder:
        copy = Path(folder) / "dravel"
        kept = subprocess.run(["git", "ls-files"], cwd=HERE, capture_output=True, text=True, check=True).stdout
        for name in kept.splitlines():
            (copy / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy(HERE / name, copy / name)
        shutil.copytree(HERE / "src/dravel/api/pages", copy / "src/dravel/api/pages", dirs_exist_ok=True)
        (copy / "web/node_modules").symlink_to((HERE / "web/node_modules").resolve())
        for file in given.files:
            print(f"{reword(copy / file, given.seed)} sentences of {file} reworded", flush=True)
        inside = {**os.environ, "PYTHONPATH": str(copy / "src")}
        subprocess.run([sys.executable, "-m", "tools.documents"], cwd=copy, env=inside, check=True)
        return subprocess.run([sys.executable, "-m", "pytest", *tests], cwd=copy, env=inside, check=False).returncode


if __name__ == "__main__":
    sys.exit(main())
