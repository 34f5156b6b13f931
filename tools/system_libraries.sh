#!/bin/sh
# Check the system libraries Qt and the tests need; install them when root, else print the one line.
# With the word "venv", only make sure that Python can make virtual environments.
set -eu
packages=""
need() { packages="$packages $1"; }
have_lib() { /sbin/ldconfig -p 2>/dev/null | grep -q "$1"; }

if [ "${1:-}" = venv ]; then
    need python3-venv
else
    have_lib libEGL.so.1          || need libegl1
    have_lib libGL.so.1           || need libgl1
    have_lib libxkbcommon.so.0    || need libxkbcommon0
    have_lib libxkbcommon-x11.so  || need libxkbcommon-x11-0
    have_lib libdbus-1.so.3       || need libdbus-1-3
    have_lib libfontconfig.so.1   || need libfontconfig1
    have_lib libglib-2.0.so.0     || need libglib2.0-0
    have_lib libxcb-cursor.so.0   || need libxcb-cursor0
    have_lib libxcb-icccm.so.4    || need libxcb-icccm4
    have_lib libxcb-keysyms.so.1  || need libxcb-keysyms1
    have_lib libxcb-image.so.0    || need libxcb-image0
    have_lib libxcb-render-util   || need libxcb-render-util0
    have_lib libxcb-shape.so.0    || need libxcb-shape0
    have_lib libxcb-xinerama.so.0 || need libxcb-xinerama0
    have_lib libxcb-xkb.so.1      || need libxcb-xkb1
    have_lib libxcb-randr.so.0    || need libxcb-randr0
    have_lib libcups.so.2         || need libcups2
    command -v objdump >/dev/null 2>&1 || need binutils
    python3 -c 'from sysconfig import get_config_var as v
import os, sys
sys.exit(not os.path.exists(os.path.join(v("LIBDIR"), v("INSTSONAME"))))' \
        || have_lib libpython3 || need libpython3-dev
    command -v Xvfb >/dev/null 2>&1 || need xvfb
fi

[ -n "$packages" ] || exit 0
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null 2>&1; then
    apt-get update -qq
    # shellcheck disable=SC2086
    DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $packages >/dev/null
else
    echo "Jar Tide needs a few system libraries. Please run:"
    echo "    sudo apt-get install$packages"
    [ "${1:-}" = venv ] && exit 1
    exit 0
fi
