#!/bin/sh
# Prints the licences of everything that the program carries: modules, the Go library, fonts, icons and scripts.
set -eu
cd "$(dirname "$0")/.."
echo "Patient Fox carries the following work of others."
show() {
  printf '\n\n======== %s\n\n' "$1"
  shift
  cat "$@"
}
show "Atkinson Hyperlegible Next (font)" internal/web/assets/files/fonts/LICENSE
show "Lucide (icons)" internal/web/assets/files/icons/LICENSE
show "Alpine.js (script)" docs/start/alpine-licence.txt
show "The Go library, and wasm_exec.js" "$(go env GOROOT)/LICENSE"
go list -deps -f '{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}}	{{.Dir}}{{end}}{{end}}' ./cmd/patientfox | sort -u | while IFS='	' read -r module folder; do
  found=
  for file in "$folder"/LICENSE* "$folder"/LICENCE* "$folder"/COPYING* "$folder"/NOTICE*; do
    if [ -f "$file" ]; then
      show "$module" "$file"
      found=yes
    fi
  done
  [ -n "$found" ] || printf '\n\n======== %s\n\nIts module carries no licence file.\n' "$module"
done
