#!/bin/sh
# Names what the system itself lacks, in one line.
python="${1:-python3}"
lacks=""
if ! "$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
  lacks="$lacks Python 3.11 or newer;"
elif ! "$python" -c 'import venv, ensurepip' 2>/dev/null; then
  lacks="$lacks Python's venv module (Debian: python3-venv);"
fi
node -e 'process.exit(parseInt(process.versions.node) < 20 ? 1 : 0)' 2>/dev/null || lacks="$lacks Node 20 or newer;"
command -v npm >/dev/null 2>&1 || lacks="$lacks npm;"
if [ -n "$lacks" ]; then
  echo "This system lacks:${lacks%;}. Install it and run the command again." >&2
  exit 1
fi
