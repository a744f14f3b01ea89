#!/bin/sh
# The long versions of tests. What they found is kept, with its date, in docs/faults.md.
set -eu
cd "$(dirname "$0")/.."
. scripts/lib.sh
long="go test -timeout 3h -count 1"

say "1 000 kills; 100 power cuts; 50 kills with a continuous copy running"
PATIENTFOX_KILLS=${KILLS:-1000} PATIENTFOX_POWER=${POWER:-100} PATIENTFOX_COPY_KILLS=${COPY_KILLS:-50} $long -run 'TestKilledServersLose|Power|GoOnCopying|Bombs' ./cmd/patientfox
say "100 cuts, 100 damaged files"
PATIENTFOX_CUTS=100 PATIENTFOX_DAMAGED=100 $long -run 'Cut|Damaged' ./internal/store
say "a full disk ten times, 5 000 forms, 5 000 scenarios of events, each with every page after it"
PATIENTFOX_FULL=10 PATIENTFOX_FORMS=5000 PATIENTFOX_SCENARIOS=5000 $long -run 'AFullDisk|NoForm|NoEvent' ./internal/web
say "200 logs of four sessions of each kind of work: the pack that a phone leaves is the one that the server makes"
PATIENTFOX_PACKS=200 $long -run TheDeviceLeaves ./internal/practice
say "10 000 presses of every key on each of 16 plans"
PATIENTFOX_PRESSES=10000 $long -run KeysPressedAtRandom ./core/session
say "10 000 random ladders: every generator, put together in every way, for dogs from eight weeks to fourteen years"
$long -run 'LaidOut' ./core/progression -rapid.checks=10000
say "fuzzers, ${FUZZ:-10m} each"
go test -run xxx -fuzz FuzzCheckAndFold -fuzzminimizetime 20x -fuzztime "${FUZZ:-10m}" ./core/record
go test -run xxx -fuzz FuzzPack -fuzzminimizetime 20x -fuzztime "${FUZZ:-10m}" ./core/session
say "10 000 random logs read by server and browser"
PATIENTFOX_LOGS=10000 $long -v -run FoldTheSame ./e2e
