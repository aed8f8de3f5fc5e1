# What ./start and ./check share: what the machine must have, and a PostgreSQL of our own. Sourced, not run.

say() { printf '%s\n' "$*"; }
stop_with() {
  printf '\n%s\n' "$*" >&2
  exit 1
}

# need_tools checks for what we cannot install.
need_tools() {
  command -v go >/dev/null || stop_with "Go is missing. Install Go 1.26 or newer (https://go.dev/dl) and run this again."
  command -v node >/dev/null || stop_with "Node.js is missing. Install Node.js 20 or newer with npm and run this again."
  command -v npm >/dev/null || stop_with "npm is missing. Install it beside Node.js and run this again."
  [ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || stop_with "Node.js $(node --version) is too old; 20 or newer is needed."
  local free
  free=$(df -Pm . | awk 'NR == 2 {print $4}')
  [ "$free" -ge 1500 ] || stop_with "The disk has only $free MB left; 1500 MB are needed. Make room and run this again."
}

# install_packages installs the Debian packages that are missing.
install_packages() {
  local missing=() package as_root=()
  for package in "$@"; do
    dpkg -s "$package" >/dev/null 2>&1 || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || stop_with "These Debian packages are missing, and only root can install them: ${missing[*]}
Ask somebody who may to run: apt-get install --no-install-recommends ${missing[*]}"
    as_root=(sudo)
  fi
  say "Installing Debian packages: ${missing[*]}"
  "${as_root[@]}" apt-get update -qq || stop_with "The Debian package lists cannot be fetched. Is there a network?"
  "${as_root[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null ||
    stop_with "Debian packages could not be installed: ${missing[*]}. Is there a network, and room on the disk?"
}

run_packages=(libvips-dev pkg-config gcc libc6-dev libvips42 ffmpeg libimage-exiftool-perl libraw-bin postgresql-15 fonts-dejavu-core)

# build_web installs the front end's packages and builds it, each only when something changed since.
build_web() {
  (
    cd web
    if [ ! -e node_modules/.installed ] || [ package-lock.json -nt node_modules/.installed ]; then
      say "Installing front-end packages"
      npm ci --no-audit --no-fund --loglevel=error || stop_with "The front-end packages could not be installed. Is there a network?"
      touch node_modules/.installed
    fi
    if [ ! -e dist/index.html ] || [ -n "$(find src public build *.html *.ts *.json eslint.config.js -newer dist/index.html -not -name "*.test.ts" -print -quit)" ]; then
      say "Building the front end"
      npm run --silent build >../.data/web-build.log 2>&1 || {
        cat ../.data/web-build.log >&2
        stop_with "The front end does not build; what it says stands above."
      }
    fi
  ) || exit 1
}

pg_bin=/usr/lib/postgresql/15/bin

# as_postgres runs a command as a user that PostgreSQL accepts: it refuses root.
as_postgres() {
  if [ "$(id -u)" -eq 0 ]; then
    (cd / && exec runuser -u postgres -- "$@")
  else
    "$@"
  fi
}

# start_postgres DIR makes a cluster in DIR when there is none and starts it on a free port of 127.0.0.1, with pg_options if
# there are some. It sets pg_port.
start_postgres() {
  local dir=$1
  mkdir -p "$dir"
  if [ "$(id -u)" -eq 0 ]; then
    chown postgres: "$dir"
    if ! as_postgres test -x "$dir"; then
      dir=/var/lib/postgresql/bright-satchel-$(printf '%s' "$1" | cksum | cut -d' ' -f1)
      say "The user postgres cannot reach $1, so the database goes to $dir."
      mkdir -p "$dir" && chown postgres: "$dir"
    fi
  fi
  pg_dir=$dir
  chmod 700 "$dir"
  if [ ! -e "$dir/PG_VERSION" ]; then
    say "Making the database"
    as_postgres "$pg_bin/initdb" --no-sync -D "$dir" -U satchel -A trust -E UTF8 --locale=C.UTF-8 >/dev/null || stop_with "The database could not be made in $dir."
    as_postgres tee -a "$dir/postgresql.conf" >/dev/null <<'CONF'
listen_addresses = '127.0.0.1'
max_connections = 200
shared_buffers = 256MB
CONF
  fi
  if as_postgres "$pg_bin/pg_ctl" -D "$dir" status >/dev/null 2>&1; then
    pg_port=$(sed -n 4p "$dir/postmaster.pid")
    return
  fi
  pg_port=$(free_port "${SATCHEL_DATABASE_PORT:-5460}")
  as_postgres "$pg_bin/pg_ctl" -D "$dir" -w -t 30 -l "$dir/server.log" -o "-p $pg_port -c unix_socket_directories='$dir' ${pg_options:-}" start >/dev/null ||
    stop_with "The database does not start; $dir/server.log says why."
}

stop_postgres() {
  [ -n "${pg_dir:-}" ] && as_postgres "$pg_bin/pg_ctl" -D "$pg_dir" -m fast stop >/dev/null 2>&1
}

# free_port FIRST prints the first port from FIRST on that nothing listens on.
free_port() {
  local port=$1
  while (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null; do port=$((port + 1)); done
  echo "$port"
}

# make_database NAME creates a database unless it is there, and sets SATCHEL_DATABASE.
make_database() {
  local url="postgres://satchel@127.0.0.1:$pg_port"
  if [ "$(psql -XAtq "$url/postgres" -c "select count(*) from pg_database where datname = '$1'")" = 0 ]; then
    psql -Xq "$url/postgres" -c "create database $1" || stop_with "The database $1 could not be made."
  fi
  export SATCHEL_DATABASE="$url/$1?sslmode=disable"
}
