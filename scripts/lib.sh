# What ./start and ./test share: packages, the build, a private PostgreSQL. Sourced, not run.
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
PG_BIN=

say() { printf '%s\n' "$*"; }
die() { printf 'wire kettle: %s\n' "$*" >&2; exit 1; }

# need_packages PACKAGE... : installs those missing when root, otherwise says what to install.
need_packages() {
  local missing=() p
  for p in "$@"; do dpkg-query -W -f='${Status}' "$p" 2>/dev/null | grep -q 'ok installed' || missing+=("$p"); done
  [ ${#missing[@]} -eq 0 ] && return
  [ "$(id -u)" = 0 ] ||
    die "these packages are missing; install them: sudo apt-get install --no-install-recommends ${missing[*]}"
  say "installing ${missing[*]}"
  # The private PostgreSQL is ours to start: no cluster of the system's.
  local clusters=/etc/postgresql-common/createcluster.conf
  if [ ! -e $clusters ]; then mkdir -p "${clusters%/*}"; echo 'create_main_cluster = false' >$clusters; fi
  local install=(apt-get install -y -q --no-install-recommends -o "Dpkg::Options::=--force-confold" "${missing[@]}")
  export DEBIAN_FRONTEND=noninteractive
  "${install[@]}" >/dev/null 2>&1 || { apt-get update -q >/dev/null && "${install[@]}" >/dev/null; } ||
    die "apt-get could not install ${missing[*]}"
}

# A package for a command, unless the command is already there from elsewhere.
need_base() {
  local wanted=(curl)
  command -v javac >/dev/null && java -version 2>&1 | grep -qE 'version "(1[7-9]|2[0-9])' ||
    wanted+=(openjdk-17-jdk-headless)
  command -v mvn >/dev/null || wanted+=(maven)
  command -v npm >/dev/null || wanted+=(nodejs npm)
  find_postgres || wanted+=(postgresql)
  command -v curl >/dev/null && wanted=("${wanted[@]:1}")
  [ ${#wanted[@]} -eq 0 ] || need_packages "${wanted[@]}"
  find_postgres || die "no PostgreSQL server was found under /usr/lib/postgresql"
  need_node
}

find_postgres() {
  PG_BIN=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)
  [ -n "$PG_BIN" ] && [ -x "$PG_BIN/initdb" ]
}

# The build of the pages needs Node 20.19 or later; Debian 12 has 18, so a newer one comes as a package of npm's.
need_node() {
  local fits='const [a, b] = process.versions.node.split(".").map(Number); process.exit(Number(a * 100 + b < 2019))'
  node_fits() { "$1" -e "$fits" 2>/dev/null; }
  node_fits node && return
  local tools=$ROOT/.tools/node
  if [ ! -x "$tools/node_modules/node/bin/node" ]; then
    say "fetching a newer Node"
    mkdir -p "$tools"
    npm install --silent --prefix "$tools" node@22 >/dev/null || die "npm could not install node@22"
  fi
  PATH="$tools/node_modules/node/bin:$PATH"
  node_fits node || die "Node 20.19 or later is needed; found $(node --version)"
}

newer_than() { # newer_than STAMP PATH... : whether anything under the paths is newer than the stamp
  local stamp=$1; shift
  [ ! -e "$stamp" ] || [ -n "$(find "$@" -newer "$stamp" -type f -print -quit 2>/dev/null)" ]
}

# web_libraries : what the pages are built, checked and run with
web_libraries() {
  newer_than "$ROOT/web/node_modules/.stamp" "$ROOT/web/package.json" "$ROOT/web/package-lock.json" || return 0
  say "fetching the pages' libraries"
  (cd "$ROOT/web" && npm ci --silent --no-audit --no-fund >/dev/null) || die "npm ci failed in web/"
  touch "$ROOT/web/node_modules/.stamp"
}

build_web() {
  web_libraries
  cd "$ROOT/web"
  if newer_than dist/index.html src index.html package.json vite.config.ts tsconfig.json; then
    say "building the pages"
    npm run --silent build >"$ROOT/web/build.log" 2>&1 ||
      { cat "$ROOT/web/build.log" >&2; die "the pages do not build"; }
  fi
  cd "$ROOT"
}

# build_java MODULES : packages them without tests
build_java() {
  if newer_than server/target/quarkus-app/quarkus-run.jar pom.xml {core,demo,server}/{pom.xml,src/main} web/dist; then
    say "building the server"
    mvn -q -B -DskipTests -pl core,demo,server package >"$ROOT/build.log" 2>&1 ||
      { grep -E 'ERROR' "$ROOT/build.log" | head -n 30 >&2; die "the server does not build; see build.log"; }
    touch server/target/quarkus-app/quarkus-run.jar
  fi
}

# free_port FIRST : the first port from there on that nobody listens on
free_port() {
  local p=$1
  while (exec 3<>"/dev/tcp/127.0.0.1/$p") 2>/dev/null; do p=$((p + 1)); done
  echo "$p"
}

# As root, PostgreSQL must run as somebody else.
as_pg() { if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi; }

# pg_start FOLDER PORT : starts a PostgreSQL of its own there, made at first use; only on loopback, with the folder's
# password
pg_start() {
  local folder=$1 port=$2
  mkdir -p "$folder"
  if [ ! -s "$folder/password" ]; then
    (umask 077; head -c 18 /dev/urandom | base64 | tr -d '+/=' >"$folder/password")
  fi
  if [ "$(id -u)" = 0 ]; then chown -R postgres "$folder"; fi
  PG_PASSWORD=$(cat "$folder/password")
  if [ ! -e "$folder/data/PG_VERSION" ]; then
    as_pg "$PG_BIN/initdb" -D "$folder/data" -U postgres -E UTF8 --locale=C.UTF-8 --auth=scram-sha-256 \
      --pwfile="$folder/password" >"$folder/initdb.log" 2>&1 || { cat "$folder/initdb.log" >&2; die "initdb failed"; }
  fi
  # One log file for each day of the week, overwritten when the day comes again.
  local logs="-c logging_collector=on -c log_directory=$folder/logs -c log_filename=postgres-%u.log"
  logs="$logs -c log_truncate_on_rotation=on -c log_rotation_age=1440 -c log_rotation_size=0"
  as_pg "$PG_BIN/pg_ctl" -D "$folder/data" -l "$folder/postgres.log" -w -t 60 \
    -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=200 $logs $PG_OPTIONS" \
    start >/dev/null || { tail -n 20 "$folder/postgres.log" "$folder"/logs/* >&2; die "PostgreSQL does not start"; }
  PG_FOLDER=$folder PG_PORT=$port
}

pg_stop() {
  [ -n "${PG_FOLDER:-}" ] && as_pg "$PG_BIN/pg_ctl" -D "$PG_FOLDER/data" -m fast -w stop >/dev/null 2>&1
  PG_FOLDER=
}

# pg DATABASE : runs the statements of standard input (an argument list, which all may read, is no place for a password)
pg() { PGPASSWORD=$PG_PASSWORD "$PG_BIN/psql" -h 127.0.0.1 -p "$PG_PORT" -U postgres -d "$1" -qAtX -v ON_ERROR_STOP=1; }

# pg_database NAME : a role and a database of that name, the password being PostgreSQL's own
pg_database() {
  [ -n "$(pg postgres <<<"SELECT 1 FROM pg_roles WHERE rolname = '$1'")" ] ||
    pg postgres <<<"CREATE ROLE $1 LOGIN PASSWORD '$PG_PASSWORD'"
  [ -n "$(pg postgres <<<"SELECT 1 FROM pg_database WHERE datname = '$1'")" ] ||
    pg postgres <<<"CREATE DATABASE $1 OWNER $1"
}

# await SECONDS PID COMMAND... : until the command succeeds, or the process is gone
await() {
  local tries=$(($1 * 10)) pid=$2 i
  shift 2
  for ((i = 0; i < tries; i++)); do
    kill -0 "$pid" 2>/dev/null || return 1
    "$@" && return
    sleep 0.1
  done
  return 1
}

# answers URL [TEXT] : whether it answers, with exactly that text
answers() {
  local said
  said=$(curl -s --noproxy '*' --max-time 2 --max-filesize 10000 "$1" 2>/dev/null | tr -d '\0') || return 1
  [ $# = 1 ] || [ "$said" = "$2" ]
}

# started_at PID : when it was started, in the kernel's ticks; with the number it names a process for good
started_at() { sed -E 's/.*\) //' "/proc/$1/stat" 2>/dev/null | cut -d' ' -f20; }

# end_left_over FILE : ends the processes that an earlier start wrote down there, should they still run
end_left_over() {
  local pid since left=()
  while read -r pid since; do
    [ -n "$since" ] && [ "$(started_at "$pid")" = "$since" ] && left+=("$pid")
  done < <(cat "$1" 2>/dev/null)
  rm -f "$1"
  [ ${#left[@]} -eq 0 ] && return
  say "ending what an earlier start left running"
  end_processes "${left[@]}"
}

# keep_log FILE : makes room for going on with it: beyond a megabyte it becomes FILE.1, and that FILE.2, up to 4
keep_log() {
  [ -e "$1" ] && [ "$(stat -c %s "$1")" -gt 1000000 ] || return 0
  local i
  for i in 3 2 1; do if [ -e "$1.$i" ]; then mv "$1.$i" "$1.$((i + 1))"; fi; done
  mv "$1" "$1.1"
}

# end_processes PID... : asks them to end, and makes those that have not within eight seconds
end_processes() {
  local p i
  for p in "$@"; do kill "$p" 2>/dev/null || true; done
  for ((i = 0; i < 80; i++)); do
    local left=
    for p in "$@"; do kill -0 "$p" 2>/dev/null && left=yes; done
    [ -z "$left" ] && break
    sleep 0.1
  done
  for p in "$@"; do kill -9 "$p" 2>/dev/null || true; wait "$p" 2>/dev/null || true; done
}
