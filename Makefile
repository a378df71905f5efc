# make demo   the made-up workshop, served on this machine
# make test   everything a contributor needs, then the whole suite
# make lint   ruff, mypy and the import rules alone
# make bench  ratios measured on this machine
# make shots  docs/screenshots anew from the demo
# make fuzz   longer runs: property tests, 100 000 requests to every route, 500 kills
# make gates  the API against a linter, a generated client and a property-based tester
# make mutants  core and store changed a token at a time: do the tests notice? (hours)
# make css    the part of Bulma that the pages use, anew
# make pins   the requirement files anew

PYTHON ?= python3
PORT ?= 8765
DATA ?= demo-data
BIN := .venv/bin
CHROMIUM ?= /usr/bin/chromium
PIP := $(BIN)/pip --disable-pip-version-check --quiet
PINS := --quiet --generate-hashes --strip-extras --no-header --no-annotate --no-emit-index-url \
	--no-emit-find-links --no-emit-trusted-host --no-emit-options

.PHONY: demo test lint bench shots fuzz gates mutants css pins clean

demo: .venv/run.done
	$(BIN)/jentrik serve --demo --port $(PORT) --data $(DATA)

test: .venv/test.done $(CHROMIUM)
	$(MAKE) --no-print-directory lint
	JENTRIK_CHROMIUM=$(CHROMIUM) $(BIN)/python -m pytest -n auto --dist worksteal --durations 10

lint: .venv/test.done
	$(BIN)/ruff check --no-cache .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo

bench: .venv/test.done
	$(BIN)/jentrik bench

shots: .venv/test.done $(CHROMIUM)
	JENTRIK_CHROMIUM=$(CHROMIUM) $(BIN)/python -m scripts.screenshots

fuzz: .venv/test.done
	JENTRIK_EXAMPLES=20000 JENTRIK_ANSWERS=2000 $(BIN)/python -m pytest tests/core
	JENTRIK_REQUESTS=100000 $(BIN)/python -m pytest -n auto tests/web/test_fuzz.py
	$(MAKE) --no-print-directory .venv-gates/done && .venv-gates/bin/python gates/run.py --seconds 1200
	JENTRIK_KILLS=500 $(BIN)/python -m pytest tests/store/test_database.py

gates: .venv/run.done .venv-gates/done
	.venv-gates/bin/python gates/run.py

mutants: .venv/test.done
	$(PIP) install mutmut
	rm -rf mutants
	$(BIN)/python scripts/mutants.py

css: .venv/test.done
	$(BIN)/python scripts/trim_bulma.py

pins: .venv/test.done
	$(PIP) install pip-tools
	$(BIN)/pip-compile $(PINS) -o requirements/build.txt requirements/build.in
	$(BIN)/pip-compile $(PINS) -o requirements/run.txt pyproject.toml
	$(BIN)/pip-compile $(PINS) -o requirements/gates.txt requirements/gates.in
	$(BIN)/pip-compile $(PINS) --extra test -o requirements/test.txt pyproject.toml

clean:
	rm -rf .venv .venv-gates demo-data

.venv/bin/python:
	$(PYTHON) -c 'import sys; sys.exit("Python 3.11 or newer is needed." if sys.version_info < (3, 11) else 0)'
	$(PYTHON) -m venv .venv

.venv/run.done: requirements/build.txt requirements/run.txt pyproject.toml | .venv/bin/python
	$(PIP) install --require-hashes -r requirements/build.txt -r requirements/run.txt
	$(PIP) install --no-deps --no-build-isolation -e .
	touch $@

.venv-gates/done: requirements/gates.txt
	$(PYTHON) -m venv .venv-gates
	.venv-gates/bin/pip --disable-pip-version-check --quiet install --require-hashes -r requirements/gates.txt
	touch $@

.venv/test.done: requirements/test.txt .venv/run.done
	$(PIP) install --require-hashes -r requirements/test.txt
	touch $@

$(CHROMIUM):
	@echo "The browser tests need Debian's chromium; installing it."
	@if [ "$$(id -u)" = 0 ]; then apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium; \
	elif sudo -n true 2>/dev/null; then sudo apt-get update -qq && sudo apt-get install -y -qq --no-install-recommends chromium; \
	else echo "It may not be installed from here. Run: sudo apt-get install chromium"; \
	echo "or name a browser that is there: make test CHROMIUM=/path/to/chromium"; exit 1; fi
