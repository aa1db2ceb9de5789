#!/usr/bin/env bash
# npm run bench: matching against a mixed-integer optimiser, import against PostgreSQL's own COPY, the shelf with 10 000
# cells, a round of 500, every page with 100 000, the steps of a long log.
# npm run fuzz, npm run chaos: what could make the application lose, freeze or fail.
# Each on a database of its own. Arguments: the suite, then its own.
export BOLD_EMBER_WORKSHOP=bench-$$
. "$(dirname "${BASH_SOURCE[0]}")/../bin/common.sh"
unset DATABASE_URL
export BOLD_EMBER_BUILDS=.next-bench CHAOS_CLUSTER=$cluster
cleanup() { stop_database; rm -rf "$state"; }
trap cleanup EXIT
need_packages ngspice
need_browser
install_modules
start_database
build_app
suite=$1; shift
node --import tsx "bench/$suite.ts" "$@"
