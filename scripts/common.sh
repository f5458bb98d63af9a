# Sourced by the scripts beside it: finds the tree, installs what is missing, builds.
set -euo pipefail
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root"
# Precompiled headers and ccache agree only with these set.
export CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime
# Two clones of the same sources share what was compiled.
export CCACHE_BASEDIR=$root CCACHE_NOHASHDIR=1
# What is not there yet is compiled at once, not preprocessed for a comparison first.
export CCACHE_DEPEND=1

# need LIST...: installs the Debian packages named in scripts/LIST that are missing.
need() {
  local list missing=()
  command -v dpkg-query >/dev/null || { echo "This is not a Debian system: install by hand what scripts/packages.txt names."; return 0; }
  for list in "$@"; do
    while read -r package; do
      [ -n "$package" ] || continue
      [ "$(dpkg-query -W -f='${db:Status-Status}' "$package" 2>/dev/null)" = installed ] || missing+=("$package")
    done < "scripts/$list"
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  local as=()
  if [ "$(id -u)" -ne 0 ]; then
    if command -v sudo >/dev/null && { [ -t 0 ] || sudo -n true 2>/dev/null; }; then as=(sudo)
    else
      echo "These Debian packages are missing: ${missing[*]}"
      echo "They cannot be installed from here: this is not root, and sudo is absent or asks for a password."
      echo "Have them installed (apt-get install ${missing[*]}), then start this script again."
      exit 3
    fi
  fi
  echo "Installing missing Debian packages: ${missing[*]}"
  "${as[@]}" apt-get update -qq
  "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}

# build PRESET [TARGET...]: configures when needed, then builds.
build() {
  local preset=$1; shift
  case $preset in asan | debug) need builds-packages.txt ;; esac  # by Clang: see CMakePresets.json
  [ -f "build/$preset/build.ninja" ] || cmake --preset "$preset" >/dev/null
  if [ $# -gt 0 ]; then cmake --build --preset "$preset" --target "$@"; else cmake --build --preset "$preset"; fi
}
