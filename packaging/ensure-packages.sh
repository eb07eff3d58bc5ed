# shellcheck shell=bash
# Sourced by ./demo and ./check: installs the Debian packages named in the given files when they are missing.
ensure_packages() {
  local wanted missing=() package
  wanted=$(sed -e 's/#.*//' "$@" | xargs)
  for package in $wanted; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  local as_root=()
  if [ "$(id -u)" -ne 0 ]; then
    if ! command -v sudo >/dev/null; then
      echo "These packages are missing and can only be installed as root: ${missing[*]}. Run: apt-get install ${missing[*]}" >&2
      return 3
    fi
    as_root=(sudo)
  fi
  echo "Installing: ${missing[*]}" >&2
  "${as_root[@]}" apt-get update -qq
  DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
}
