# Two commands do everything on a fresh machine: `make demo` and `make test`.

GO      ?= go
DIST    := internal/web/run/dist
NOTICES := internal/web/about/dist/notices.txt
PROGRAM := bin/patientfox
COMMIT  := $(shell git rev-parse --short=12 HEAD 2>/dev/null)
export GOFLAGS := -buildvcs=false

.PHONY: demo run build core notices assets setup test dist bench judge large soak shots clean

demo: build
	./$(PROGRAM) demo

run: build
	./$(PROGRAM) serve

build: core notices
	$(GO) build -ldflags "-X main.built=$(COMMIT)" -o $(PROGRAM) ./cmd/patientfox

# The core for the browser, packed, into its embed folder. 9 takes 2 seconds, 11 takes 20 and saves a tenth.
PACK ?= 9
core:
	GOOS=js GOARCH=wasm $(GO) build -trimpath -ldflags "-s -w" -o bin/fieldcore.wasm ./cmd/fieldcore
	$(GO) run tools/brotli.go $(PACK) bin/fieldcore.wasm $(DIST)/fieldcore.wasm.br
	cp "$$($(GO) env GOROOT)/lib/wasm/wasm_exec.js" $(DIST)/wasm_exec.js

# The licences of what the program carries, packed, into their embed folder.
notices:
	@mkdir -p bin
	scripts/notices.sh >bin/notices.txt
	$(GO) run tools/brotli.go $(PACK) bin/notices.txt $(NOTICES).br

assets:
	npm ci --no-audit --no-fund --loglevel=error
	scripts/assets.sh

setup:
	scripts/setup.sh

test: setup
	scripts/test.sh

dist:
	scripts/dist.sh

bench: core
	scripts/bench.sh

judge:
	$(GO) run ./e2e/judge

large: build
	scripts/large.sh

soak: setup core
	scripts/soak.sh

shots: build
	scripts/shots.sh

clean:
	rm -rf bin dist $(DIST)/fieldcore.wasm.br $(DIST)/wasm_exec.js $(NOTICES).br
