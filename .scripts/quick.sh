#!/usr/bin/env bash
# Tests what covers the changes since the last commit, or of the last commit where there are none. Called by ./test --quick.
set -u
here=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$here"
. .scripts/build.sh
need_dotnet
need_node

changed=$( { git diff --name-only HEAD; git ls-files --others --exclude-standard; } | sort -u)
[ -n "$changed" ] || changed=$(git diff --name-only HEAD~1 HEAD)
failed=0
run() {
  echo "== $*"
  "$@" || failed=1
}

# The front end: types, and the unit tests that reach what changed.
web=$(printf '%s\n' "$changed" | grep -E '^web/src/.*\.(ts|tsx|css)$' | sed 's#^web/##')
if [ -n "$web" ]; then
  install_web
  run npm run --silent check --prefix web
  # shellcheck disable=SC2086 # names without spaces
  (cd web && echo "== unit tests of the front end" && npx vitest related --run $(for f in $web; do [ -f "$f" ] && echo "$f"; done) --passWithNoTests) || failed=1
fi

# .NET: the test project of each changed project; of a large one the classes named for the areas that changed, or changed themselves.
for project in Core Formats Storage Server Cli StandIns; do
  names=$(printf '%s\n' "$changed" | grep -E "^(src/JadeOrchard\.$project|tests/JadeOrchard\.$project\.Tests)/.*\.cs$" || true)
  [ -n "$names" ] || continue
  areas=$(printf '%s\n' "$names" | sed -nE "s#^src/JadeOrchard\.$project/([A-Z][A-Za-z]*)/.*#\1#p; s#^.*/([A-Za-z]*Tests)\.cs\$#\1#p" | sort -u)
  filter=$(printf '%s\n' "$areas" | sed '/^$/d; s/^Clusters$/Cluster/; s/^Topics$/Topic/; s/^Findings$/Finding/; s/^/FullyQualifiedName~/' | paste -sd '|' -)
  run dotnet build "tests/JadeOrchard.$project.Tests" -c Release -v quiet --nologo -p:OpenApiGenerateDocuments=false
  run timeout 60 dotnet test "tests/JadeOrchard.$project.Tests" -c Release --no-build -v quiet --nologo ${filter:+--filter "$filter"}
done

[ "$failed" = 0 ] && echo "what changed passes" || echo "something failed; see above"
exit "$failed"
