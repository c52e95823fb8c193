#!/bin/sh
# Programs of Debian's that the tests drive: Chromium for the interface, ArgyllCMS as another reader of our files,
# strace for what a cut of the power leaves.
# Installed where that is allowed; else it is said what to type.
set -eu
missing=""
{ [ -x /usr/bin/chromium ] && [ -x /usr/bin/chromedriver ]; } || missing="chromium chromium-driver"
command -v cxf2ti3 >/dev/null || missing="$missing argyll"
command -v strace >/dev/null || missing="$missing strace"
[ -n "$missing" ] || exit 0
line="apt-get install -y $missing"
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    echo "Installing what the tests drive: $line"
    apt-get update -qq && DEBIAN_FRONTEND=noninteractive $line -qq >/dev/null
else
    echo "The tests need Chromium with ChromeDriver, ArgyllCMS and strace. Please run, as root: $line" >&2
    exit 1
fi
