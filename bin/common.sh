# Shared by the commands in this folder: packages, the workshop's own PostgreSQL, the build. Sourced, not run.
set -euo pipefail
export NEXT_TELEMETRY_DISABLED=1

# Where the person stands: the paths they give begin there.
here=$PWD
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root"

say() { printf '%s\n' "$*" >&2; }
fail() { say "$*"; exit 1; }

# As root the database belongs to the unprivileged user that Debian's package brings, and lies where that user may go
# wherever the checkout is; as anyone else it lies in the checkout and belongs to them.
workshop=${BOLD_EMBER_WORKSHOP:-workshop}
if [ "$(id -u)" = 0 ]; then
  state=/var/lib/bold-ember/$(printf %s "$root" | sha256sum | cut -c1-12)/$workshop
  as_owner() { (cd / && runuser -u postgres -- "$@"); }
else
  state=$root/.bold-ember/$workshop
  as_owner() { (cd / && "$@"); }
fi
cluster=$state/cluster
secret=$state/password
portfile=$state/port
# The port that the workshop was last served on.
state_noted=$state/served-on
# Files on their way into the database lie here and nowhere else.
export BOLD_EMBER_TEMPORARY=$state/temporary

postgres_bin() {
  local found
  found=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1) || true
  [ -n "$found" ] && [ -x "$found/initdb" ] && printf %s "$found"
}

# Debian packages that are missing: installed as root, otherwise named in one line to type.
need_packages() {
  local missing=() package
  for package in "$@"; do dpkg -s "$package" >/dev/null 2>&1 || missing+=("$package"); done
  [ ${#missing[@]} = 0 ] && return
  [ "$(id -u)" = 0 ] || fail "Missing: ${missing[*]}. Install with: sudo apt-get install ${missing[*]}"
  say "Installing ${missing[*]} …"
  export DEBIAN_FRONTEND=noninteractive
  apt-get update -qq
  # The workshop starts a server of its own; Debian need not create and start another.
  if [ ! -e /etc/postgresql-common/createcluster.conf ] && [[ " ${missing[*]} " == *" postgresql-15 "* ]]; then
    apt-get install -y -qq --no-install-recommends postgresql-common >&2
    mkdir -p /etc/postgresql-common/createcluster.d
    echo 'create_main_cluster = false' > /etc/postgresql-common/createcluster.d/bold-ember.conf
  fi
  apt-get install -y -qq --no-install-recommends "${missing[@]}" >&2
}

# Of Debian's two browsers without a window either will do, so that one that is there needs no network; else the lighter.
need_browser() {
  if dpkg -s chromium-headless-shell >/dev/null 2>&1 || dpkg -s chromium >/dev/null 2>&1; then return; fi
  (need_packages chromium-headless-shell) || need_packages chromium
}

# npm ci only when the lock file changed: a running workshop keeps its packages under its feet.
install_modules() {
  local stamp=node_modules/.bold-ember-lock
  command -v npm >/dev/null || fail 'Node.js 20 with npm is needed; install it first.'
  cmp -s package-lock.json "$stamp" 2>/dev/null && return
  say 'Installing packages (npm ci) …'
  npm ci --ignore-scripts --no-audit --no-fund --loglevel=error >&2
  cp package-lock.json "$stamp"
}

port_taken() {
  node -e 'const s = require("net").createServer().once("error", () => process.exit(0)).listen(+process.argv[1], process.argv[2], () => { s.close(); process.exit(1); })' "$1" "${2:-127.0.0.1}"
}

free_port() {
  node -e 'const s = require("net").createServer().listen(0, "127.0.0.1", () => { console.log(String(s.address().port)); s.close(); })'
}

database_running() { as_owner "$(postgres_bin)/pg_ctl" -D "$cluster" status >/dev/null 2>&1; }

# True once it takes questions: after a crash it first puts in order what was under way.
database_answers() { "$(postgres_bin)/pg_isready" -q -h 127.0.0.1 -p "$(cat "$portfile")"; }

await_database() {
  local tries
  for tries in $(seq 600); do
    database_answers && return
    database_running || break
    [ "$tries" = 50 ] && say 'The database is putting in order what a crash left; one moment …'
    sleep 0.1
  done
  fail "The database did not start; see $cluster/server.log"
}

create_database() {
  say 'Making the database …'
  mkdir -p "$state"
  (umask 077 && node -e 'console.log(require("crypto").randomBytes(24).toString("hex"))' > "$secret")
  free_port > "$portfile"
  local making=$cluster.making handover=$state/handover
  rm -rf "$making" "$handover"
  mkdir -m 700 "$making" "$handover"
  if [ "$(id -u)" = 0 ]; then
    chmod 711 /var/lib/bold-ember "$(dirname "$state")" "$state"
    chown postgres "$making" "$handover"
  fi
  # The owner of the database may not read the password's file, so it gets a copy for this moment.
  as_owner sh -c 'umask 077; cat > "$1"' sh "$handover/password" < "$secret"
  as_owner "$(postgres_bin)/initdb" -D "$making" -U bold_ember -E UTF8 --locale=C.UTF-8 -A scram-sha-256 --pwfile="$handover/password" >/dev/null
  rm -rf "$handover"
  as_owner tee -a "$making/postgresql.conf" >/dev/null <<CONF
listen_addresses = '127.0.0.1'
unix_socket_directories = ''
fsync = on
synchronous_commit = on
full_page_writes = on
CONF
  mv "$making" "$cluster"
}

# Prints the address of the database, without starting it.
database_url() { printf 'postgres://bold_ember:%s@127.0.0.1:%s/%s' "$(cat "$secret")" "$(cat "$portfile")" "${1:-postgres}"; }

# Starts the workshop's database unless DATABASE_URL names one. Sets started_database when it did.
started_database=
start_database() {
  if [ -n "${DATABASE_URL:-}" ]; then return; fi
  need_packages postgresql-15
  [ -d "$cluster" ] || create_database
  if ! database_running; then
    if port_taken "$(cat "$portfile")"; then
      free_port > "$portfile.new" && mv "$portfile.new" "$portfile"
      say "Its port was taken: the database is on 127.0.0.1:$(cat "$portfile") from now on."
    fi
    as_owner "$(postgres_bin)/pg_ctl" -D "$cluster" -l "$cluster/server.log" -o "-p $(cat "$portfile")" -w -t 60 start >/dev/null || database_running || fail "The database did not start; see $cluster/server.log"
    started_database=yes
  fi
  await_database
  DATABASE_URL=$(database_url)
  export DATABASE_URL
}

stop_database() {
  [ -d "$cluster" ] && database_running && as_owner "$(postgres_bin)/pg_ctl" -D "$cluster" -m fast -w stop >/dev/null
  return 0
}

# The files that a build or the running server may be made of: what git tracks, all but tests and papers. Without git,
# every file outside of what is installed or made.
list_sources() {
  if command -v git >/dev/null && [ -e .git ]; then
    git -c safe.directory="$root" ls-files -z -- . ':!docs' ':!bench' ':!e2e' ':!bin' ':!.ci' ':!*.test.ts' ':!*.md' |
      while IFS= read -r -d '' file; do [ ! -f "$file" ] || printf '%s\0' "$file"; done
    return
  fi
  local aside=() folder
  for folder in './.*' ./node_modules ./docs ./bench ./e2e ./bin ./test-results ./playwright-report; do
    aside+=(-path "$folder" -prune -o)
  done
  find . "${aside[@]}" -type f ! -name '*.test.ts' ! -name '*.md' ! -name '*.tsbuildinfo' ! -name next-env.d.ts -print0
}

source_fingerprint() { list_sources | LC_ALL=C sort -z | xargs -0 sha256sum | sha256sum | cut -c1-16; }

# Each state of the sources has a build in a folder of its own, so that no build changes what another server runs on.
# Sets NEXT_DIST_DIR to that folder and marks it as in use for as long as this shell or the server that it starts lives.
build_app() {
  local builds=${BOLD_EMBER_BUILDS:-.next} folder other log
  folder=$builds/$(source_fingerprint)
  mkdir -p "$builds"
  # One at a time builds; a start that had to wait finds what the other built.
  exec {building}>>"$builds/building"
  flock "$building"
  # Beside the folder: a build begins by emptying its folder.
  exec {in_use}>>"$folder.in-use"
  flock --shared "$in_use"
  export NEXT_DIST_DIR=$folder
  if [ ! -f "$folder/is-whole" ]; then
    say 'Building …'
    log=$(mktemp)
    node node_modules/next/dist/bin/next build > "$log" 2>&1 || { cat "$log" >&2; rm -f "$log"; fail 'The build failed.'; }
    rm -f "$log"
    # What a browser loads is packed once, here.
    find "$folder/static" -type f \( -name '*.js' -o -name '*.css' \) -exec gzip -9kf {} +
    touch "$folder/is-whole"
    for other in "$builds"/*.in-use; do flock --nonblock "$other" rm -rf "${other%.in-use}" "$other" || true; done
  fi
  exec {building}>&-
}

# Serves until Ctrl-C, then stops everything that was started here.
server=
finish() {
  trap - INT TERM EXIT
  if [ -n "$server" ]; then
    kill "$server" 2>/dev/null || true
    wait "$server" 2>/dev/null || true
  fi
  if [ -n "$started_database" ]; then stop_database; fi
}

# Arguments: the address to listen on, and production (from the build) or development (from the source, as it changes).
serve() {
  local port=${PORT:-3000} address=${1:-127.0.0.1} mode=${2:-production} tries
  if port_taken "$port" "$address"; then
    say "Port $port is taken by something else."
    port=$(free_port)
  fi
  mkdir -p "$state"
  printf %s "$port" > "$state_noted"
  trap 'finish; exit 0' INT TERM
  trap finish EXIT
  NODE_ENV=$mode PORT=$port BOLD_EMBER_LISTEN=$address node --import tsx http/main.ts &
  server=$!
  for tries in $(seq 300); do
    if [ "$(curl -s -o /dev/null -w '%{http_code}' "http://127.0.0.1:$port/api/v1/health")" != 000 ]; then
      say "The workshop is open at http://127.0.0.1:$port"
      [ "$address" = 127.0.0.1 ] || node --import tsx http/phoneAddress.ts "$port"
      break
    fi
    kill -0 "$server" 2>/dev/null || fail 'The server did not start.'
    sleep 0.2
  done
  wait "$server" && return
  fail 'The server ended unasked.'
}
