# Shared by bin/start and bin/test: says what is missing and gets it. Sourced, never run.
ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/../.." && pwd -P)"
DATA="$ROOT/.data"
export NEXT_TELEMETRY_DISABLED=1

say() { printf '%s\n' "$*"; }
fail() { printf 'Fresh Start cannot go on: %s\n' "$1" >&2; [ $# -gt 1 ] && printf '  What to do: %s\n' "$2" >&2; exit 1; }

check_node() {
  command -v node >/dev/null 2>&1 || fail "Node.js is not installed" "install Node.js 20.19 or later, with npm"
  node -e 'const [a,b]=process.versions.node.split(".").map(Number);process.exit(a>20||(a===20&&b>=19)?0:1)' \
    || fail "Node.js $(node --version) is too old" "install Node.js 20.19 or later"
}

# check_disk MEGABYTES: room in the project's folder
check_disk() {
  local free; free=$(df -Pm "$ROOT" | awk 'NR==2{print $4}')
  [ "$free" -ge "$1" ] || fail "the disk has $free MB left, $1 MB are needed" "free some space in $ROOT"
}

# ensure_package COMMAND PACKAGE: installs a Debian package when its command is missing
ensure_package() {
  command -v "$1" >/dev/null 2>&1 && return
  [ "$(id -u)" = 0 ] || fail "the package $2 is missing" "run once as root: apt-get install $2"
  command -v apt-get >/dev/null 2>&1 || fail "the package $2 is missing" "install $2 by hand"
  say "Installing $2"
  DEBIAN_FRONTEND=noninteractive apt-get update -qq >/dev/null
  DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$2" >/dev/null \
    || fail "Debian's package $2 could not be installed" "look at the lines above"
}

ensure_modules() {
  local want; want=$(sha256sum "$ROOT/package-lock.json" | cut -c1-64)
  [ -f "$ROOT/node_modules/.installed" ] && [ "$(cat "$ROOT/node_modules/.installed")" = "$want" ] && return
  check_disk 1500
  say "Installing the npm packages (about a minute)"
  (cd "$ROOT" && npm ci --no-audit --no-fund >"$DATA/npm-ci.log" 2>&1) || { tail -n 20 "$DATA/npm-ci.log" >&2; fail "npm ci failed" "see .data/npm-ci.log"; }
  printf '%s' "$want" > "$ROOT/node_modules/.installed"
}

ensure_build() {
  local want
  want=$(cd "$ROOT" && { find src docs/formats demo bin/lib/processes.mjs -type f -not -name '*.test.ts' -not -path 'demo/catalog/*' -print0 | sort -z | xargs -0 sha256sum
    sha256sum next.config.ts tsconfig.json postcss.config.mjs package-lock.json; } | sha256sum | cut -c1-64)
  [ -f "$ROOT/.next/BUILD_ID" ] && [ -f "$ROOT/public/workers/live.js" ] && [ -f "$ROOT/.next/processes/demo/seed.js" ] && [ "$(cat "$DATA/build.stamp" 2>/dev/null)" = "$want" ] && return
  check_disk 500
  say "Building (about half a minute)"
  rm -f "$DATA/build.stamp" # a build that is cut off is none
  (cd "$ROOT" && { node_modules/.bin/next build && node bin/lib/processes.mjs; } >"$DATA/build.log" 2>&1) || { tail -n 40 "$DATA/build.log" >&2; fail "the build failed" "see .data/build.log"; }
  printf '%s' "$want" > "$DATA/build.stamp"
}

port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }
free_port() { node -e 'const s=require("net").createServer();s.listen(0,"127.0.0.1",()=>{process.stdout.write(`${s.address().port}\n`);s.close()})'; }
