#!/bin/sh
# Makes .venv with the locked packages and, on Debian and Ubuntu, the system libraries that Qt's window plugin
# wants; with "tests" also what only the tests want (a PostgreSQL). Says what it is about to install. Finds everything in place the second time and returns at once.
set -eu
cd "$(dirname "$0")/.."
say() { echo "yarvel setup: $*" >&2; }

as_root() {
    if [ "$(id -u)" = 0 ]; then "$@"
    elif command -v sudo >/dev/null 2>&1; then sudo "$@"
    else return 1
    fi
}

# --- system packages -------------------------------------------------------------------------------------------
libraries="libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0
 libxcb-render0 libxcb-shape0 libxcb-shm0 libxcb-sync1 libxcb-xfixes0 libxcb-xinerama0 libxcb-xkb1
 libxkbcommon-x11-0 libxkbcommon0 libx11-xcb1 libegl1 libgl1 libdbus-1-3 libfontconfig1 libglib2.0-0 xvfb xauth"

is_there() {
    dpkg-query -W -f '${Status}' "$1" 2>/dev/null | grep -q 'ok installed' ||
        dpkg-query -W -f '${Status}' "$1t64" 2>/dev/null | grep -q 'ok installed'
}

missing=""
if command -v dpkg-query >/dev/null 2>&1; then
    for package in $libraries; do is_there "$package" || missing="$missing $package"; done
    python3 -c 'import ensurepip, venv' 2>/dev/null || missing="$missing python3-venv"
    # The tests of a team store start a private PostgreSQL of their own; the cluster that the package makes is not used.
    if [ "${1:-}" = tests ]; then
        ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 || missing="$missing postgresql"
    fi
fi
if [ -n "$missing" ]; then
    say "installing system packages with apt:$missing"
    if ! { as_root apt-get update -qq &&
           as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $missing; } \
           >.setup.log 2>&1; then
        tail -n 3 .setup.log >&2 || true
        say "that did not work. Install these packages yourself, then run make again:$missing"
        exit 1
    fi
    rm -f .setup.log
fi

# --- Python packages ---------------------------------------------------------------------------------------------
find_python() {
    for name in python3.11 python3.12 python3.13 python3.14 python3; do
        if command -v "$name" >/dev/null 2>&1 &&
           "$name" -c 'import sys, ensurepip, venv; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            echo "$name"; return 0
        fi
    done
    return 1
}

stamp=.venv/.locked
if [ -x .venv/bin/python ] && [ -f "$stamp" ] && cmp -s requirements.lock "$stamp" &&
   [ -x .venv/bin/yarvel ] && [ .venv/.project -nt pyproject.toml ]; then
    exit 0
fi
python=$(find_python) || { say "Python 3.11 or newer is needed (with venv), and was not found"; exit 1; }
if ! [ -f "$stamp" ] || ! cmp -s requirements.lock "$stamp"; then
    say "installing the locked Python packages into .venv (with $python)"
    [ -x .venv/bin/python ] || "$python" -m venv .venv
    .venv/bin/python -m pip install --quiet --disable-pip-version-check --require-hashes --no-deps -r requirements.lock
    cp requirements.lock "$stamp"
fi
.venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
say "compiling what plans the day"
.venv/bin/python -c 'from yarvel.day.turns import compiled; compiled()'
touch .venv/.project
