# What the scripts share: installing what is missing, on Debian.

say() { printf '\n== %s\n' "$*"; }

# need PROGRAM PACKAGE...: installs packages where the program is missing.
need() {
  program=$1
  shift
  command -v "$program" >/dev/null 2>&1 && return
  say "installing $*"
  sudo=
  [ "$(id -u)" = 0 ] || sudo=sudo
  if [ -z "${APT_UPDATED:-}" ]; then
    $sudo apt-get update -qq
    APT_UPDATED=yes
  fi
  DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y -qq "$@" >/dev/null
}

install_tools() {
  need gcc gcc libc6-dev
  need node nodejs npm
  need npm npm
  need chromium chromium
  need certutil libnss3-tools
}

install_node_packages() {
  # The stamp spares `npm ci` while the lock file is the one that was installed.
  if ! cmp -s package-lock.json node_modules/.installed-lock 2>/dev/null; then
    say "Node's packages"
    npm ci --no-audit --no-fund --loglevel=error
    cp package-lock.json node_modules/.installed-lock
  fi
}
