#!/bin/sh
# Builds the archives that a trainer gets: one program each, with notices, a first page to read, and checksums. TARGETS and the
# folder can be given, for tests.
set -eu
cd "$(dirname "$0")/.."
to=${1:-dist}
targets=${TARGETS:-windows/amd64 darwin/amd64 darwin/arm64 linux/amd64 linux/arm64}
release=${RELEASE:-$(git describe --tags --always 2>/dev/null || echo dev)}
commit=$(git rev-parse --short=12 HEAD 2>/dev/null || echo "")
mkdir -p "$to"
to=$(cd "$to" && pwd)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
make -s core notices PACK=11
cp bin/notices.txt "$work/THIRD-PARTY.txt"
for target in $targets; do
  os=${target%/*}
  arch=${target#*/}
  name=patientfox-$release-$os-$arch
  folder=$work/$name
  mkdir -p "$folder"
  program=patientfox
  [ "$os" = windows ] && program=patientfox.exe
  echo "$name"
  CGO_ENABLED=0 GOOS=$os GOARCH=$arch go build -trimpath -buildvcs=false -ldflags "-s -w -X main.release=$release -X main.built=$commit" -o "$folder/$program" ./cmd/patientfox
  cp "$work/THIRD-PARTY.txt" "$folder/"
  cp docs/start/$os.txt "$folder/READ-ME-FIRST.txt"
  if [ "$os" = linux ]; then
    tar -C "$work" -czf "$to/$name.tar.gz" "$name"
  else
    (cd "$work" && go run "$OLDPWD/tools/pack.go" "$to/$name.zip" "$name")
  fi
done
(cd "$to" && sha256sum patientfox-"$release"-*.zip patientfox-"$release"-*.tar.gz 2>/dev/null >SHA256SUMS || true)
[ -n "${TARGETS:-}" ] || PATIENTFOX_DIST=$to go test -count=1 -run Archives ./cmd/patientfox
echo "in $to"
