#!/bin/sh
# The browser tests drive Debian's Chromium. Install it where that is allowed; else say what to type.
set -eu
[ -x /usr/bin/chromium ] && [ -x /usr/bin/chromedriver ] && exit 0
line="apt-get install -y chromium chromium-driver"
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    echo "Installing Chromium for the browser tests: $line"
    apt-get update -qq && DEBIAN_FRONTEND=noninteractive $line -qq >/dev/null
else
    echo "The browser tests need Chromium and ChromeDriver. Please run, as root: $line" >&2
    exit 1
fi
