# Shared by ./run, ./jade and ./test: checks for the tools and builds a program once. Sourced by bash.

export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 DOTNET_SKIP_FIRST_TIME_EXPERIENCE=1

need_dotnet() {
  if ! command -v dotnet >/dev/null 2>&1; then
    echo "Jade Orchard needs the .NET SDK 10, and there is no 'dotnet' on the PATH. Install it, then try again." >&2
    exit 2
  fi
  local version
  version=$(cd / && dotnet --version 2>/dev/null || echo none)
  if [ "${version%%.*}" = none ] || [ "${version%%.*}" -lt 10 ]; then
    echo "Jade Orchard needs the .NET SDK 10; this machine's 'dotnet' says $version. Install version 10, then try again." >&2
    exit 2
  fi
}

need_node() {
  if ! command -v node >/dev/null 2>&1 || ! command -v npm >/dev/null 2>&1; then
    echo "Jade Orchard needs Node.js 20.19 or newer with npm, and 'node' or 'npm' is not on the PATH. Install it, then try again." >&2
    exit 2
  fi
  if ! node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'; then
    echo "Jade Orchard needs Node.js 20.19 or newer; this machine has $(node --version). Install a newer one, then try again." >&2
    exit 2
  fi
}

# The state of the files that a build depends on: names, sizes and times.
state_of() {
  (cd "$here" && find "$@" \( -name bin -o -name obj -o -name node_modules -o -name dist \) -prune -o -type f -printf '%p %s %T@\n' | LC_ALL=C sort | cksum)
}

# What is to be said to publish beyond that, such as that all is built.
publish_with=""

# build_once PROJECT ASSEMBLY: publishes src/PROJECT to .build/PROJECT unless its sources are as they were.
build_once() {
  local project=$1 assembly=$2 out="$here/.build/$1" state
  state=$(state_of src Directory.Build.props Directory.Packages.props global.json)
  if [ -f "$out/$assembly.dll" ] && [ "$(cat "$out.state" 2>/dev/null)" = "$state" ]; then
    return
  fi
  need_dotnet
  mkdir -p "$here/.build"
  echo "Building $project…" >&2
  # shellcheck disable=SC2086 # words of one list
  if ! dotnet publish "$here/src/$project/$project.csproj" -c Release -o "$out" -v quiet --nologo -p:OpenApiGenerateDocuments=false $publish_with >"$out.log" 2>&1; then
    cat "$out.log" >&2
    echo "Building $project failed; the messages are above." >&2
    exit 2
  fi
  printf '%s' "$state" >"$out.state"
}

# install_web: the front end's packages, when the lock file has changed.
install_web() {
  need_node
  if [ -d "$here/web/node_modules" ] && cmp -s "$here/web/package-lock.json" "$here/web/node_modules/.installed" && [ -d "$here/tests/node_modules" ]; then
    return
  fi
  echo "Installing the front end's packages…" >&2
  if ! (cd "$here/web" && PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1 npm ci --no-progress --loglevel error) >&2; then
    echo "npm could not install the front end's packages; the messages are above." >&2
    exit 2
  fi
  # The browser tests stand outside web/ and find the packages through this link.
  ln -sfn ../web/node_modules "$here/tests/node_modules"
  cp "$here/web/package-lock.json" "$here/web/node_modules/.installed"
}

# build_web: web/dist, unless its sources are as they were.
build_web() {
  local state
  state=$(state_of web)
  if [ -f "$here/web/dist/index.html" ] && [ "$(cat "$here/.build/web.state" 2>/dev/null)" = "$state" ]; then
    return
  fi
  install_web
  mkdir -p "$here/.build"
  echo "Building the front end…" >&2
  if ! (cd "$here/web" && npx vite build --logLevel warn) >"$here/.build/web.log" 2>&1; then
    cat "$here/.build/web.log" >&2
    echo "Building the front end failed; the messages are above." >&2
    exit 2
  fi
  state_of web >"$here/.build/web.state"
}

# place_web: the built front end beside the published server.
place_web() {
  local from="$here/web/dist" to="$here/.build/JadeOrchard.Server/wwwroot"
  if ! diff -rq "$from" "$to" >/dev/null 2>&1; then
    rm -rf "$to"
    cp -r "$from" "$to"
  fi
}
