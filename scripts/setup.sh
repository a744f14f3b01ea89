#!/bin/sh
# Installs what tests need on a machine where none of it was installed before.
set -eu
cd "$(dirname "$0")/.."
. scripts/lib.sh
install_tools
install_node_packages
