#!/usr/bin/env bash
# npm run fuzz, npm run chaos: what could make the application lose, freeze or fail, on a database of its own.
export BOLD_EMBER_WORKSHOP=reliability-$$
. "$(dirname "${BASH_SOURCE[0]}")/../bin/common.sh"
unset DATABASE_URL
export NEXT_DIST_DIR=.next-bench
cleanup() { stop_database; rm -rf "$state"; }
trap cleanup EXIT
install_modules
start_database
build_app
suite=$1; shift
export CHAOS_CLUSTER=$cluster
npx tsx "bench/$suite.ts" "$@"
