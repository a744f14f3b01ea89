# Two commands do everything on a fresh machine: `make demo` and `make test`.

GO      ?= go
DIST    := internal/web/run/dist
PROGRAM := bin/patientfox
export GOFLAGS := -buildvcs=false

.PHONY: demo run build core assets test dist bench judge large soak shots clean

demo: build
	./$(PROGRAM) demo

run: build
	./$(PROGRAM) serve

build: core
	$(GO) build -o $(PROGRAM) ./cmd/patientfox

# The core for the browser, into its embed folder. Our own code, and what of the library is smaller so, is not
# inlined; the library's indexes, not ours, go unchecked; the older collector of garbage is used where the toolchain
# still has it. Together 300 KB less, and no slower a tap.
SMALL := -gcflags=all=-B -gcflags=patientfox/core/...=-l $(foreach p,fmt encoding/json internal/fmtsort internal/runtime/atomic,"-gcflags=$(p)=-l -B")
GC    := $(shell GOEXPERIMENT=nogreenteagc $(GO) env GOEXPERIMENT 2>/dev/null)
core:
	GOEXPERIMENT=$(GC) GOOS=js GOARCH=wasm $(GO) build -trimpath $(SMALL) -ldflags "-s -w" -o $(DIST)/fieldcore.wasm ./cmd/fieldcore
	cp "$$($(GO) env GOROOT)/lib/wasm/wasm_exec.js" $(DIST)/wasm_exec.js

assets:
	npm ci --no-audit --no-fund --loglevel=error
	scripts/assets.sh

test:
	scripts/test.sh

dist: core
	scripts/dist.sh

bench: core
	scripts/bench.sh

judge:
	$(GO) run ./e2e/judge

large: build
	scripts/large.sh

soak: core
	scripts/soak.sh

shots: build
	scripts/shots.sh

clean:
	rm -rf bin dist $(DIST)/fieldcore.wasm $(DIST)/wasm_exec.js
