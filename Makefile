# make demo    install what is missing, build, and serve the Kelpwick demo
# make test    install what is missing and run every test
# make lint    formatting, vet, staticcheck, Biome, types
# make bench   the benchmarks
# make shots   the pictures of the documentation, taken anew
# make load    a server under load: many connections, slow ones, kills

SHELL := /bin/bash
.DELETE_ON_ERROR:

PORT ?= 8420
VERSION := $(shell git describe --always --dirty 2>/dev/null || echo unknown)

WEB := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts
GO := $(shell find cmd internal demo web \( -name '*.go' -o -name '*.css' -o -name '*.xml' -o -name '*.sql' \) -not -path 'web/node_modules/*' \
	-not -path 'web/src/*' -not -path 'web/dist/*') go.mod go.sum demo/data demo/problems demo/class.json internal/store/migrations

.PHONY: demo serve build web test lint bench shots load types check-tools postgresql chromium poppler fmt

demo: postgresql build
	@exec ./bin/grund demo --port $(PORT)

serve: postgresql build
	@exec ./bin/grund serve --port $(PORT)

build: bin/grund

bin/grund: web/dist/index.html $(GO)
	go build -buildvcs=false -ldflags "-X main.version=$(VERSION)" -o $@ ./cmd/grund

web: web/dist/index.html

web/node_modules/.package-lock.json: web/package-lock.json
	@$(MAKE) --no-print-directory check-tools
	cd web && npm ci --no-progress
	@touch $@

web/dist/index.html: web/node_modules/.package-lock.json $(WEB)
	cd web && npx vite build --logLevel warn

types:
	go run ./cmd/typegen > web/src/api/types.ts.new && mv web/src/api/types.ts.new web/src/api/types.ts

test: postgresql chromium poppler web
	cd web && npm run --silent test
	go test -count=1 -timeout 14m ./...
	go test -run '^$$' -fuzz FuzzParse -fuzztime 10s ./internal/problem

lint: web/node_modules/.package-lock.json
	@unformatted=$$(gofmt -l cmd demo e2e internal web/*.go); \
	if [ -n "$$unformatted" ]; then echo "not formatted by gofmt:"; echo "$$unformatted"; exit 1; fi
	go vet ./...
	go tool staticcheck ./...
	cd web && npm run --silent check
	go test -run TestTheTypesAreFresh ./cmd/typegen

fmt:
	gofmt -w cmd demo e2e internal web/*.go
	cd web && npm run --silent format

bench:
	go test -run '^$$' -bench . -benchmem ./internal/... 

shots: postgresql chromium poppler build
	go test -tags shots -count=1 -run TestScreenshots ./e2e

load: postgresql build
	go run ./cmd/load

check-tools:
	@command -v go >/dev/null || { echo "Go is not installed: install Go 1.26 or newer"; exit 1; }
	@command -v node >/dev/null || { echo "Node is not installed: run apt-get install nodejs npm"; exit 1; }
	@command -v npm >/dev/null || { echo "npm is not installed: run apt-get install npm"; exit 1; }

# Debian's packages, installed where they are missing.
SUDO := $(shell [ "$$(id -u)" = 0 ] || echo sudo)

postgresql: check-tools
	@ls /usr/lib/postgresql/*/bin/postgres >/dev/null 2>&1 || $(MAKE) --no-print-directory install PACKAGE=postgresql

chromium:
	@command -v chromium >/dev/null || $(MAKE) --no-print-directory install PACKAGE=chromium

# What is printed is read back by the tests.
poppler:
	@command -v pdftotext >/dev/null || $(MAKE) --no-print-directory install PACKAGE=poppler-utils

.PHONY: install
install:
	@command -v apt-get >/dev/null || { echo "$(PACKAGE) is not installed, and there is no apt-get to install it with"; exit 1; }
	@if [ -n "$(SUDO)" ] && ! command -v sudo >/dev/null; then echo "$(PACKAGE) is not installed: run apt-get install $(PACKAGE) as root"; exit 1; fi
	$(SUDO) apt-get update -qq
	$(SUDO) env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $(PACKAGE)
