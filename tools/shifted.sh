#!/bin/sh
# The whole suite while the machine's clock says something else, once for each date that is named:
#   tools/shifted.sh '2027-12-31 23:40' '2028-02-29 08:00'
# Not a part of make test. The monotonic clock is moved by as much, so that what has passed stays true: left alone, as
# --exclude-monotonic would have it, libfaketime 0.9.10 refuses every sleep of Python 3.11 (EINVAL: it reads the moment
# to sleep until as one of the clock on the wall).
set -eu
cd "$(dirname "$0")/.."
[ $# -gt 0 ] || { echo "usage: tools/shifted.sh 'YYYY-MM-DD HH:MM'..." >&2; exit 2; }
make --no-print-directory test-setup
if ! command -v faketime >/dev/null 2>&1; then
    echo "yarvel: installing system packages with apt: faketime" >&2
    if [ "$(id -u)" = 0 ]; then root=""; else root="sudo"; fi
    $root apt-get update -qq
    $root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends faketime
fi
failed=0
for date in "$@"; do
    echo "== the machine's clock says $date"
    if faketime "$date" make --no-print-directory test; then told=passed; else told=FAILED failed=1; fi
    echo "== at $date: $told"
done
exit $failed
