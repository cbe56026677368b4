#!/usr/bin/env bash
# Installs Outrigger from this folder, without any network, and keeps the data of an installation before. To run: bash install.sh
#   OUTRIGGER_HOME  where the program goes      (left out: ~/outrigger)
#   OUTRIGGER_VAR   where the data lies         (left out: ~/outrigger/var)
#   HOST, PORT      where it listens            (left out: 127.0.0.1, 8000); HTTPS=1 with a certificate of the team's own
#   DEMO=1          loads the invented demo
#   SERVICE=0       no service that starts with this machine
set -euo pipefail
# What is kept is this account's alone to read.
umask 077
here=$(cd "$(dirname "$0")" && pwd)
home=${OUTRIGGER_HOME:-$HOME/outrigger}
export OUTRIGGER_VAR=${OUTRIGGER_VAR:-$home/var}
export OUTRIGGER_HTTPS=${HTTPS:-0}
host=${HOST:-127.0.0.1} port=${PORT:-8000} release=$home/releases/$(cat "$here/VERSION")
python3 -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))' || { echo "Python 3.11 is needed; this is $(python3 --version)"; exit 1; }

manage() { PYTHONPATH=$release:$release/server "$release/.venv/bin/python" "$release/server/manage.py" "$@"; }

mkdir -p "$release" "$OUTRIGGER_VAR"
cp -r "$here/program/." "$release/"
[ -x "$release/.venv/bin/python" ] || python3 -m venv "$release/.venv"
"$release/.venv/bin/python" -m pip install -q --no-index --find-links "$here/wheels" -r "$release/requirements/base.txt"
# The solver of anchor legs is compiled once, half a minute.
(cd "$release" && .venv/bin/python -c "import rigging.mechanics.descent")

# What is there is kept twice before anything of it is changed.
if [ -f "$OUTRIGGER_VAR/outrigger.sqlite3" ]; then
  mkdir -p "$OUTRIGGER_VAR/before"
  python3 - "$OUTRIGGER_VAR" <<'PY'
import sqlite3, sys, time
var = sys.argv[1]
kept = f"{var}/before/{time.strftime('%Y-%m-%d-%H%M%S')}.sqlite3"
sqlite3.connect(f"{var}/outrigger.sqlite3").execute("VACUUM INTO ?", (kept,))
print(f"The data as it was: {kept}")
PY
fi
manage migrate -v0
[ "${DEMO:-0}" = 1 ] && manage load_demo
manage verify_log
ln -sfn "$release" "$home/now"

cat > "$home/serve.sh" <<RUN
#!/usr/bin/env bash
export OUTRIGGER_VAR="$OUTRIGGER_VAR" OUTRIGGER_HTTPS="$OUTRIGGER_HTTPS" PYTHONPATH="$home/now:$home/now/server"
exec "$home/now/.venv/bin/python" "$home/now/server/manage.py" serve --listen=$host:$port
RUN
chmod +x "$home/serve.sh"

if [ "${SERVICE:-1}" = 1 ] && command -v systemctl >/dev/null && systemctl --user show-environment >/dev/null 2>&1; then
  mkdir -p "$HOME/.config/systemd/user"
  sed "s|@SERVE@|$home/serve.sh|" "$here/outrigger.service" > "$HOME/.config/systemd/user/outrigger.service"
  systemctl --user daemon-reload
  systemctl --user enable --quiet outrigger
  systemctl --user restart outrigger
  echo "It runs, and starts with this machine: http$([ "$OUTRIGGER_HTTPS" = 1 ] && echo s)://$host:$port"
else
  echo "Start it with $home/serve.sh"
fi
echo "A first leader, where there is none: PYTHONPATH=$home/now:$home/now/server OUTRIGGER_VAR=$OUTRIGGER_VAR $home/now/.venv/bin/python $home/now/server/manage.py first_leader TEAM NAME"
