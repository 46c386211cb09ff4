# The two commands of the README are `make demo` and `make test`; the rest is for contributors.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
STAMPS := .stamps
WEB_SOURCES := $(shell find web/src web/public web/index.html web/vite.config.ts -type f 2>/dev/null)

.PHONY: demo serve test long deep wheel lint lint-python lint-web types bench mutants accuracy attack jobs shots dev install browser clean

demo: install web/dist/index.html
	$(BIN)/vellumcut demo

serve: install web/dist/index.html
	$(BIN)/vellumcut serve

test: install-dev web/dist/index.html browser
	@$(BIN)/python -m tests.whole

# What `make test` leaves out to stay quick; run at every landing.
long: install-dev web/dist/index.html browser
	$(BIN)/pytest -n 2 --dist worksteal -m "long and not deep" tests/core tests/formats tests/api tests/journeys

# All examples of everything, breaks planted, kills, photographs: an hour and more.
deep: install-dev web/dist/index.html browser lint wheel
	VELLUMCUT_DEEP=1 $(BIN)/pytest -n 2 --dist worksteal -m "deep or not deep" tests/core tests/formats tests/api tests/journeys
	$(BIN)/python -m tests.mutants --room make --room rig --room finish --room foam --room trace
	$(BIN)/python -m tests.attack
	$(BIN)/python -m tests.accuracy
	$(BIN)/python -m tests.accuracy_floors
	$(BIN)/python -m tests.jobs

lint: lint-python lint-web

lint-python: install-dev
	$(BIN)/ruff check src tests
	$(BIN)/ruff format --check src tests
	$(BIN)/mypy src
	$(BIN)/lint-imports

lint-web: install $(STAMPS)/node
	$(BIN)/python -m vellumcut.api.schema_file > web/openapi.json
	cd web && npm run --silent schema -- --check
	cd web && npm run --silent lint && npm run --silent check && npm run --silent test

types: install $(STAMPS)/node
	$(BIN)/python -m vellumcut.api.schema_file > web/openapi.json
	cd web && npm run --silent schema

# A wheel that carries the built pages: for makers who have neither node nor make.
wheel: install web/dist/index.html
	rm -rf build src/vellumcut/pages && cp -r web/dist src/vellumcut/pages
	$(BIN)/pip wheel --quiet --disable-pip-version-check --no-deps --wheel-dir dist .; made=$$?; \
		rm -rf build src/vellumcut/pages; exit $$made
	@ls -l dist/*.whl

bench: install-dev web/dist/index.html browser
	$(BIN)/python -m tests.bench

mutants: install-dev
	$(BIN)/python -m tests.mutants --room make --room rig --room finish --room foam --room trace

accuracy: install-dev
	$(BIN)/python -m tests.accuracy
	$(BIN)/python -m tests.accuracy_floors

# Twenty costumes from nothing, held against what they are: docs/jobs.md.
jobs: install-dev
	$(BIN)/python -m tests.jobs

attack: install-dev web/dist/index.html browser
	$(BIN)/python -m tests.attack

shots: install-dev web/dist/index.html browser
	$(BIN)/python -m tests.journeys.shots

dev: install $(STAMPS)/node
	$(BIN)/vellumcut serve --port 8765 & cd web && npm run dev

install: $(STAMPS)/python
install-dev: $(STAMPS)/python-dev

$(BIN)/python:
	$(PYTHON) -m venv $(VENV) || { echo "Python needs its venv module: apt-get install python3-venv"; exit 1; }

$(STAMPS)/python: requirements.lock pyproject.toml | $(BIN)/python
	@mkdir -p $(STAMPS)
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements.lock
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps -e .
	@touch $@

$(STAMPS)/python-dev: requirements-dev.lock $(STAMPS)/python
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements-dev.lock
	@touch $@

$(STAMPS)/node: web/package-lock.json web/package.json
	@mkdir -p $(STAMPS)
	cd web && npm ci --silent
	@touch $@

web/dist/index.html: $(STAMPS)/node $(WEB_SOURCES)
	cd web && npm run --silent build
	@touch $@

# Chromium and its driver from Debian's packages, only where they are missing.
browser:
	@if ! command -v chromium >/dev/null || ! command -v chromedriver >/dev/null; then \
		run=""; [ "$$(id -u)" = 0 ] || run=sudo; \
		$$run apt-get update -qq && DEBIAN_FRONTEND=noninteractive $$run apt-get install -y -qq chromium chromium-driver; \
	fi

clean:
	rm -rf $(VENV) $(STAMPS) web/dist web/node_modules
