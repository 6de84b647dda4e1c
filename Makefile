# make demo | make test are the two to know; see README.md
PY := .venv/bin/python
STAMPS := .stamps
.DEFAULT_GOAL := help
# where it is set every process compiles all that it imports anew: three seconds a start
unexport PYTHONDONTWRITEBYTECODE
.PHONY: help demo test quick dev serve build check types bench long setup chromium pango get clean

help:            ## list what there is
	@grep -E '^[a-z]+:.*##' Makefile | sed 's/:.*##/\t/' | expand -t 12

PIP := .venv/bin/pip install --quiet --disable-pip-version-check
NPM := npm ci --no-audit --no-fund --loglevel=error

$(STAMPS)/python: requirements.lock pyproject.toml
	python3 -m venv .venv
	$(PIP) --no-compile --no-deps -r requirements.lock
	$(PIP) --no-deps -e .
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/python-tests: requirements-tests.lock $(STAMPS)/python
	$(PIP) --no-compile --no-deps -r requirements-tests.lock
	@touch $@

# what builds the page; with the tests' tools instead where these are wanted too
$(STAMPS)/node: web/package-lock.json
	@test $(STAMPS)/node-tests -nt $< || (cd web && $(NPM) --omit=dev)
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/node-tests: web/package-lock.json
	cd web && $(NPM)
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/web: $(STAMPS)/node $(shell find web/src web/public web/index.html web/vite.config.ts -type f 2>/dev/null)
	cd web && npm run --silent build
	@mkdir -p $(STAMPS) && touch $@

setup: $(STAMPS)/python-tests $(STAMPS)/node-tests ## virtual environment and packages, the tests' too
build: $(STAMPS)/web                   ## the page, into yellowbath/web_dist

demo: $(STAMPS)/python $(STAMPS)/web pango ## set up, seed the demo shop once, serve it on loopback
	.venv/bin/yellowbath demo

serve: $(STAMPS)/python $(STAMPS)/web pango ## serve your own shop from ./shop-data
	.venv/bin/yellowbath serve --data shop-data

# Debian's chromium without its own window, which takes a third of the processor; else the whole
chromium:
	@command -v chromium-headless-shell >/dev/null || $(MAKE) --no-print-directory get GET=chromium-headless-shell || \
	 command -v chromium >/dev/null || $(MAKE) --no-print-directory get GET=chromium

get:
	@(apt-get update -qq && apt-get install -y -qq --no-install-recommends $(GET)) || \
	 (sudo apt-get update -qq && sudo apt-get install -y -qq --no-install-recommends $(GET))

# what sets the type of the PDF sheets; comes with chromium too
pango:
	@ldconfig -p | grep -q libpangoft2 || $(MAKE) --no-print-directory get GET=libpangoft2-1.0-0 || \
	 echo "Without Pango there are no PDF sheets; everything else works."

test: setup $(STAMPS)/web chromium pango ## set up where missing, then all tests
	$(PY) -W error::DeprecationWarning:yellowbath -m tests.run

quick: setup  ## the pure rules, the guards and the page's units, in under a minute
	$(PY) -W error::DeprecationWarning:yellowbath -m tests.run quick

dev: setup                             ## server and page with reload, on demo data
	(.venv/bin/yellowbath demo & echo $$! > $(STAMPS)/dev.pid; cd web && npm run --silent dev; kill $$(cat ../$(STAMPS)/dev.pid))

$(STAMPS)/tools: web/tools/package-lock.json
	cd web/tools && npm ci --no-audit --no-fund --loglevel=error
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/schema.d.ts: setup $(STAMPS)/tools
	.venv/bin/yellowbath openapi > $(STAMPS)/openapi.json
	cd web/tools && npx openapi-typescript ../../$(STAMPS)/openapi.json -o ../../$@

check: $(STAMPS)/schema.d.ts           ## linters and types, Python and TypeScript, and the client's types against the API
	.venv/bin/ruff check . && .venv/bin/ruff format --check . && .venv/bin/mypy && cd web && npm run --silent check
	@cmp $< web/src/shared/api/schema.d.ts || (echo "The API has changed: make types"; exit 1)

types: $(STAMPS)/schema.d.ts           ## the TypeScript client's types from OpenAPI
	cp $< web/src/shared/api/schema.d.ts

bench: setup $(STAMPS)/web  ## measure; see docs/bench.md
	$(PY) -m tests.bench
	$(PY) -m tests.bench_quick
	$(PY) -m tests.bench_entry
	$(PY) -m tests.bench_load
	$(PY) -m tests.bench_first
	$(PY) -m tests.bench_hand
	YB_LONG=1 $(PY) -m tests.run longer

long: setup $(STAMPS)/web chromium pango ## all tests in their longer forms
	YB_LONG=1 $(PY) -W error::DeprecationWarning:yellowbath -m tests.run

clean:                                 ## what was built; never a shop's data
	rm -rf .venv .stamps web/node_modules web/tools/node_modules yellowbath/web_dist
