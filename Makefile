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

# The core for the browser, packed, into its embed folder. 9 takes 2 seconds, 11 takes 20 and saves a tenth.
PACK ?= 9
core:
	GOOS=js GOARCH=wasm $(GO) build -trimpath -ldflags "-s -w" -o bin/fieldcore.wasm ./cmd/fieldcore
	$(GO) run tools/brotli.go $(PACK) bin/fieldcore.wasm $(DIST)/fieldcore.wasm.br
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
	rm -rf bin dist $(DIST)/fieldcore.wasm.br $(DIST)/wasm_exec.js
