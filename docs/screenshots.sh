#!/usr/bin/env bash
# npm run screenshots: the main views with the demo data, as pictures in docs/screenshots/.
export BOLD_EMBER_WORKSHOP=screenshots-$$ BOLD_EMBER_BUILDS=.next-test
. "$(dirname "${BASH_SOURCE[0]}")/../bin/common.sh"
need_browser
unset DATABASE_URL
trap 'stop_database; rm -rf "$state"' EXIT
start_database
build_app
npx playwright test --config docs/screenshots.config.ts
