#!/bin/sh
# The browser that tests and screenshots drive: Debian's Chromium, installed when it is missing.
[ -x "${DRAVEL_CHROMIUM:-/usr/bin/chromium}" ] && exit 0
cannot="Chromium is missing at /usr/bin/chromium. Install it (Debian: apt-get install chromium), or set DRAVEL_CHROMIUM to a Chromium."
command -v apt-get >/dev/null 2>&1 || { echo "$cannot" >&2; exit 1; }
if [ "$(id -u)" = 0 ]; then as=""; elif sudo -n true 2>/dev/null; then as="sudo -n"; else
  echo "$cannot This user may not install packages." >&2
  exit 1
fi
echo "Installing Chromium…"
export DEBIAN_FRONTEND=noninteractive
$as apt-get update -qq >/dev/null && $as apt-get install -y -qq --no-install-recommends chromium >/dev/null 2>&1
[ -x /usr/bin/chromium ] || { echo "$cannot" >&2; exit 1; }
