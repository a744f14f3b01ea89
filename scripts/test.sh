#!/bin/sh
# Everything that must hold. `make setup` installs what it needs.
set -eu
cd "$(dirname "$0")/.."
. scripts/lib.sh
export GOFLAGS=-buildvcs=false

# stage says what comes now, and keeps how long what came before took.
times=
stage_name=
stage() {
  now=$(date +%s)
  [ -z "$stage_name" ] || times="$times$(printf '%5d s  %s' $((now - stage_at)) "$stage_name")\n"
  stage_name=$1
  stage_at=$now
  [ -z "$1" ] || say "$1"
}

stage "format"
unformatted=$(gofmt -l $(git ls-files '*.go' 2>/dev/null || find . -name '*.go' -not -path './node_modules/*'))
[ -z "$unformatted" ] || { echo "not formatted: $unformatted"; exit 1; }

stage "built assets are current"
fresh=$(mktemp -d)
trap 'rm -rf "$fresh"' EXIT
scripts/assets.sh "$fresh"
for built in app.css alpine.js fonts icons; do
  diff -r "$fresh/$built" "internal/web/assets/files/$built" >/dev/null || { echo "$built is not current: run make assets"; exit 1; }
done

stage "scripts: types, lint, tests"
node_modules/.bin/tsc -p .
node_modules/.bin/eslint internal/web
node --test --test-reporter=dot internal/web/run/tests/*.test.js

stage "the browser's core"
make -s core notices PACK=11 # as the archive has it
size=$(wc -c <internal/web/run/dist/fieldcore.wasm.br)
[ "$size" -lt 1400000 ] || { echo "the browser's core has $size bytes packed; at most 1.4 MB"; exit 1; }

stage "vet and staticcheck"
go vet ./...
go tool -modfile=tools/go.mod staticcheck ./...

stage "tests, with the race detector"
go build -o "$fresh/patientfox" ./cmd/patientfox
PATIENTFOX_TEST_DEMO=$("$fresh/patientfox" make-demo --data "$fresh" --now 2026-11-23T15:00:00Z --log error)
export PATIENTFOX_TEST_DEMO
go test -race -count=1 -timeout 40m . ./cmd/... # they ask the go tool, which the test cache does not see
# The longest package is within the ten minutes that go test allows one; on a slow machine it need not be.
go test -race -timeout 40m ./core/... ./internal/...

stage "forecasts and claims hold what they say (arithmetic alone: without the race detector)"
go test ./core/outlook ./internal/judge

stage "the core under wasm"
GOOS=js GOARCH=wasm go test -exec="$(go env GOROOT)/lib/wasm/go_js_wasm_exec" ./core/...

stage "browser tests"
# The whole of it is one package: the ten minutes that go test allows one are near on a slow machine.
go test -race -parallel 2 -timeout 40m ./e2e/...
stage ""
say "all passed"
printf "%b" "$times"
