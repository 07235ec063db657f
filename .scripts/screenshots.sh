#!/usr/bin/env bash
# Makes all pictures of docs/screenshots anew from the demo, with servers of its own. Usage: .scripts/screenshots.sh [NAME...]
set -eu
here=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$here"
. .scripts/build.sh
[ -x /usr/bin/chromium-headless-shell ] || [ -x /usr/bin/chromium ] || { echo "The pictures need Chromium, which ./test installs." >&2; exit 2; }
install_web
build_web
build_once JadeOrchard.Server JadeOrchard.Server
build_once JadeOrchard.StandIns JadeOrchard.StandIns
place_web

data=$(mktemp -d)
started=()
cleanup() {
  for id in ${started[@]+"${started[@]}"}; do kill "$id" 2>/dev/null || true; done
  rm -rf "$data"
}
trap cleanup EXIT
dotnet .build/JadeOrchard.StandIns/JadeOrchard.StandIns.dll generate demo/scenario.json "$data/files" >/dev/null
(cd .build/JadeOrchard.StandIns && exec dotnet JadeOrchard.StandIns.dll serve --scenario ../../demo/scenario.json --port 5189 >/dev/null) &
started+=($!)
(cd .build/JadeOrchard.Server && exec dotnet JadeOrchard.Server.dll --port 5190 --data "$data/project" --services http://localhost:5189 --load "$data/files" >/dev/null) &
started+=($!)
node web/screenshots.mjs http://localhost:5190 docs/screenshots "$@"
