# make demo   start the program with demo data
# make test   pass all tests
# The rest are parts of these, or for those who work on the program.

SHELL := /bin/bash
export GOFLAGS := -buildvcs=false -trimpath # what is built, tested and checked is compiled once
export CGO_ENABLED := 0

# Which program this is: what the sources are at.
VERSION := $(shell git describe --always --dirty --abbrev=10 2>/dev/null || echo unstamped)
export ITER_VERSION := $(VERSION)

GO_FILES := $(shell find core server cmd -name '*.go' -o -name '*.sql')
WEB_FILES := $(shell find web/src web/public web/index.html web/vite.config.ts web/package-lock.json -type f 2>/dev/null | grep -v -E '\.wasm$$|/wasm_exec.js')

.PHONY: demo build test test-go test-web test-e2e check types bench bench-large soak fuzz screenshots chromium clean

demo: build
	./bin/iter demo --data .demo

build: bin/iter

bin/iter: cmd/iter/dist/index.html $(GO_FILES)
	go build -ldflags="-s -w -X main.version=$(VERSION)" -o $@ ./cmd/iter

web/node_modules/.done: web/package-lock.json
	cd web && npm install --no-save --no-audit --no-fund --loglevel=error
	@touch $@

e2e/node_modules/.done: e2e/package-lock.json
	cd e2e && PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD=1 npm install --no-save --no-audit --no-fund --loglevel=error
	@touch $@

web/src/device/core.wasm: $(shell find core cmd/itercore -name '*.go' ! -name '*_test.go')
	GOOS=js GOARCH=wasm go build -ldflags="-s -w" -o $@ ./cmd/itercore

web/src/device/paper.wasm: $(shell find core cmd/iterpaper -name '*.go' ! -name '*_test.go')
	GOOS=js GOARCH=wasm go build -ldflags="-s -w" -o $@ ./cmd/iterpaper

web/src/office/board/office.wasm: $(shell find core cmd/iteroffice -name '*.go' ! -name '*_test.go')
	GOOS=js GOARCH=wasm go build -ldflags="-s -w" -o $@ ./cmd/iteroffice

web/src/device/wasm_exec.js: web/src/device/core.wasm web/src/device/paper.wasm web/src/office/board/office.wasm
	cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" $@

cmd/iter/dist/index.html: web/node_modules/.done web/src/device/wasm_exec.js $(WEB_FILES)
	cd web && npx vite build --logLevel warn
	@touch $@ cmd/iter/dist/.keep

types:
	go run ./tools/tsgen > web/src/types.new && mv web/src/types.new web/src/types.ts

# What a reviewer would otherwise have to look for.
check: web/node_modules/.done web/src/device/wasm_exec.js
	test -z "$$(gofmt -l core server cmd tools)" || { gofmt -l core server cmd tools; exit 1; }
	! LC_ALL=C.UTF-8 grep -rnE --include='*.go' '^.{141}' cmd core server tools # longer than 140 columns
	go vet ./...
	go tool staticcheck ./...
	go run ./tools/tsgen | diff -u web/src/types.ts - || { echo "web/src/types.ts is stale: run make types"; exit 1; }
	cd web && npx tsc --noEmit && npx biome check --error-on-warnings src ../e2e/tests

# Building and fetching go side by side, then all tests that need no browser; those that do are alone, since they watch what people wait for.
test:
	$(MAKE) -j3 build test-web chromium e2e/node_modules/.done
	$(MAKE) -j2 check test-go
	$(MAKE) test-e2e

test-go:
	go test ./...

test-web: web/node_modules/.done web/src/device/wasm_exec.js
	cd web && npx vitest run

test-e2e: build chromium e2e/node_modules/.done
	cd e2e && npx playwright test

# What the tests drive, and what reads the papers they print and writes the extracts that they read. The shell without windows takes two thirds of the processor's time that the whole
# browser takes; where it can't be had, they drive that one.
PACKAGES := chromium-headless-shell poppler-utils qpdf zbar-tools osmium-tool
chromium:
	@have() { { command -v "$$1" && command -v pdftoppm && command -v qpdf && command -v zbarimg && command -v osmium; } >/dev/null; }; \
	  have chromium-headless-shell && exit 0; \
	  if [ "$$(id -u)" = 0 ]; then apt-get update -qq && apt-get install -y -qq $(PACKAGES); \
	  elif command -v sudo >/dev/null; then sudo apt-get update -qq && sudo apt-get install -y -qq $(PACKAGES); fi; \
	  have chromium-headless-shell || have chromium || { \
	  echo "The tests need Debian's packages $(PACKAGES). Install them as root, then run this again."; exit 1; }

# A tenth of ten years of a company of 200 technicians, and all of it. At the end stands what is past its limit or worse than docs/benchmarks.md
# has it; KEEP=1 writes the figures there.
bench: build chromium e2e/node_modules/.done
	mkdir -p e2e/.tmp
	go run ./tools/bench -entries 1000000 -out e2e/.tmp/server.json
	cd e2e && FIGURES=.tmp/browser.json npx playwright test --config bench.config.ts
	go run ./tools/figures $(if $(KEEP),-keep) docs/benchmarks.md e2e/.tmp/browser.json e2e/.tmp/server.json

bench-large:
	go run ./tools/bench -entries 10000000

# Schedules of faults, as make test runs 200 of; and a phone and an office driven at random.
MINUTES ?= 10
soak: build chromium e2e/node_modules/.done
	go test ./server/simulation -run TestSchedules -seeds 10000 -timeout 24h -v
	cd e2e && MINUTES=$(MINUTES) npx playwright test --config soak.config.ts

# Each fuzz target for a minute.
fuzz:
	@for t in core/ledger:FuzzApply core/ledger:FuzzMergePatch core/bridge:FuzzCall core/reading:FuzzParse core/formula/parse:FuzzText core/sheet:FuzzParse core/stock:FuzzReadCode core/roads:FuzzRead core/roads:FuzzOpen server/importing:FuzzImport server/importing:FuzzPartsList server/api:FuzzSyncBody server/api:FuzzBatch server/api:FuzzUploadHeaders server/api:FuzzUnsentFile; do \
	  echo "$$t"; go test ./$${t%:*} -run '^$$' -fuzz "^$${t#*:}\$$" -fuzztime 60s || exit 1; done

screenshots: build chromium e2e/node_modules/.done
	cd e2e && npx playwright test --config screenshots.config.ts

clean:
	rm -rf bin cmd/iter/dist/* web/src/device/core.wasm web/src/device/paper.wasm web/src/office/board/office.wasm web/src/device/wasm_exec.js .demo
