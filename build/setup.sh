# Installs what a command needs and the machine lacks. Sourced by run, test and assignum.

say() { printf '%s\n' "$*" >&2; }

as_root() { if [ "$(id -u)" = 0 ]; then "$@"; else sudo "$@"; fi; }

# need_packages COMMAND_OR_FILE PACKAGE …: installs Debian packages when a command or file is missing.
need_packages() {
  local sign=$1; shift
  if [ -e "$sign" ] || command -v "$sign" >/dev/null 2>&1; then return; fi
  say "Installing $* from Debian's packages …"
  as_root apt-get update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null
}

need_dotnet() {
  need_icu
  need_packages /usr/share/zoneinfo/Europe/Vienna tzdata
  export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 DOTNET_GENERATE_ASPNET_CERTIFICATE=false
  if command -v dotnet >/dev/null 2>&1; then return; fi
  need_packages dotnet dotnet-sdk-10.0 || { say "The .NET SDK 10 is missing and Debian's packages here don't have it. Install it, so that 'dotnet' is on the path, and start again."; exit 1; }
}

# Unicode's normal forms come from Debian's ICU library, whose package carries its version in its name.
need_icu() {
  if [ -n "$({ ldconfig -p || /sbin/ldconfig -p; } 2>/dev/null | grep libicuuc || true)" ]; then return; fi
  say "Installing the ICU library from Debian's packages …"
  as_root apt-get update -qq
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$(apt-cache search --names-only '^libicu[0-9]+$' | cut -d' ' -f1 | sort | tail -n 1)" >/dev/null
}

need_node() { need_packages npm nodejs npm; need_packages curl curl; }

# Debian starts a cluster of its own with the server package; ours is private, so that one is not needed.
need_postgres() {
  if [ -x "$(pg_bin)/initdb" ]; then return; fi
  say "Installing PostgreSQL from Debian's packages …"
  as_root apt-get update -qq
  as_root mkdir -p /etc/postgresql-common
  [ -e /etc/postgresql-common/createcluster.conf ] || echo "create_main_cluster = false" | as_root tee /etc/postgresql-common/createcluster.conf >/dev/null
  as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends postgresql >/dev/null
}

need_browser() {
  need_packages /usr/bin/chromium chromium
  need_packages /usr/bin/chromedriver chromium-driver
}

# build_unless_built PROJECT ASSEMBLY: builds when a source is newer than what was built.
build_unless_built() {
  local built="src/$1/bin/Release/net10.0/$2.dll" log
  if [ -f "$built" ] && [ -z "$(find src Directory.*.props -newer "$built" -type f -not -path '*/obj/*' -not -path '*/bin/*' -not -path '*/node_modules/*' -not -path '*/wwwroot/lib/*' -print -quit)" ]; then return; fi
  say "Building …"
  log=$(dotnet build "src/$1" -c Release --nologo -v quiet 2>&1) || { say "$log"; exit 1; }
  touch "$built"
}

# Folder with initdb and pg_ctl of the newest PostgreSQL.
pg_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -t/ -k5 -n | tail -n 1; }

# A server refuses to run as root; then it runs as user postgres.
as_postgres() { if [ "$(id -u)" = 0 ]; then runuser -u postgres -- env -C / "$@"; else "$@"; fi; }

# A secret nobody has to remember.
new_secret() { head -c 24 /dev/urandom | base64 | tr '+/' 'ab'; }

# kept_secret FILE: the secret in a file that nobody else reads; made at the first use.
kept_secret() {
  if [ ! -s "$1" ]; then (umask 077; new_secret > "$1"); fi
  cat "$1"
}

# cluster_make FOLDER: a new private cluster; its owner's password in FOLDER/../password.
cluster_make() {
  local folder=$1 secret; secret=$(mktemp)
  new_secret > "$secret"
  install -m 600 "$secret" "$(dirname "$folder")/password"
  if [ "$(id -u)" = 0 ]; then chown postgres "$secret"; fi
  as_postgres "$(pg_bin)/initdb" -D "$folder" -U app -E UTF8 --locale=C.UTF-8 --auth=scram-sha-256 --pwfile="$secret" --data-checksums >/dev/null
  rm -f "$secret"
}

# cluster_start FOLDER PORT [SETTING …]
cluster_start() {
  local folder=$1 port=$2 settings=""; shift 2
  for setting in "$@"; do settings="$settings -c $setting"; done
  cluster_bury_dead "$folder"
  as_postgres "$(pg_bin)/pg_ctl" -D "$folder" -l "$folder/server.log" -w -t 30 -o "-c listen_addresses=127.0.0.1 -c port=$port -c unix_socket_directories=''$settings" start >/dev/null
}

# Port of a cluster that runs already; nothing when it does not.
cluster_port() {
  cluster_bury_dead "$1"
  if [ -f "$1/postmaster.pid" ]; then sed -n 4p "$1/postmaster.pid"; fi
}

cluster_stop() { as_postgres "$(pg_bin)/pg_ctl" -D "$1" -m fast -w stop >/dev/null 2>&1 || true; }

# After a hard kill the server may still look alive; if it is gone or a zombie, its lock is stale.
cluster_bury_dead() {
  local lock="$1/postmaster.pid" pid
  [ -f "$lock" ] || return 0
  pid=$(head -n 1 "$lock")
  if [ ! -d "/proc/$pid" ] || grep -q '^State:[[:space:]]*Z' "/proc/$pid/status" || ! grep -qa postgres "/proc/$pid/cmdline"; then rm -f "$lock"; fi
}

# First free port of loopback from one on.
free_port() {
  local port=$1
  while (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null; do port=$((port + 1)); done
  echo "$port"
}

# A place that user postgres can enter, for a checkout it may not be able to.
cluster_place() { echo "/var/tmp/assignum-$(id -u)-$(printf '%s' "$1" | sha256sum | cut -c1-12)"; }

# database_make PORT OWNER_SECRET NAME WEB_SECRET: the database, and the role the application signs in with, unless they are there.
database_make() {
  local ask=("$(pg_bin)/psql" -h 127.0.0.1 -p "$1" -U app -v ON_ERROR_STOP=1 -qAt)
  export PGPASSWORD=$2
  if [ "$("${ask[@]}" -d postgres -c "select count(*) from pg_database where datname = '$3'")" = 0 ]; then "${ask[@]}" -d postgres -c "create database $3"; fi
  PGOPTIONS="-c client_min_messages=warning" "${ask[@]}" -d postgres >/dev/null <<SQL
do \$\$ begin
  if not exists (select from pg_roles where rolname = 'assignum_app') then create role assignum_app nologin; end if;
  if not exists (select from pg_roles where rolname = 'assignum_web') then create role assignum_web login; end if;
end \$\$;
alter role assignum_web password '$4';
grant assignum_app to assignum_web;
SQL
  unset PGPASSWORD
}
