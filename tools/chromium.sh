#!/bin/sh
# The browser that tests and screenshots drive: Debian's headless Chromium, or the whole one; installed when both are missing.
for browser in ${DRAVEL_CHROMIUM:-/usr/bin/chromium-headless-shell /usr/bin/chromium}; do
  [ -x "$browser" ] && exit 0
done
cannot="Chromium is missing at /usr/bin/chromium-headless-shell and /usr/bin/chromium. Install one (Debian: apt-get install chromium-headless-shell), or set DRAVEL_CHROMIUM to a Chromium."
command -v apt-get >/dev/null 2>&1 || { echo "$cannot" >&2; exit 1; }
if [ "$(id -u)" = 0 ]; then as=""; elif sudo -n true 2>/dev/null; then as="sudo -n"; else
  echo "$cannot This user may not install packages." >&2
  exit 1
fi
echo "Installing Chromium…"
export DEBIAN_FRONTEND=noninteractive
$as apt-get update -qq >/dev/null
for package in chromium-headless-shell chromium; do
  $as apt-get install -y -qq --no-install-recommends $package >/dev/null 2>&1 && [ -x /usr/bin/$package ] && exit 0
done
echo "$cannot" >&2
exit 1
