#!/usr/bin/env bash
# npm run bench: matching against a mixed-integer optimiser, import against PostgreSQL's own COPY, the shelf with 10 000
# cells, a round of 500, the steps of a long log.
export BOLD_EMBER_WORKSHOP=bench-$$
. "$(dirname "${BASH_SOURCE[0]}")/../bin/common.sh"
unset DATABASE_URL
export NEXT_DIST_DIR=.next-bench
cleanup() { stop_database; rm -rf "$state"; }
trap cleanup EXIT
need_packages chromium
start_database
build_app
npx tsx bench/main.ts "$@"
