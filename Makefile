# make demo: install, build, load the demo, serve, print the address.   make test: everything that CI tests.
# Targets are kept by stamp files in .stamps/, so a second start does no work twice.

PYTHON ?= $(shell for p in python3.13 python3.12 python3.11 python3; do command -v $$p >/dev/null 2>&1 && \
	$$p -c 'import sys, venv, ensurepip; sys.exit(sys.version_info < (3, 11))' >/dev/null 2>&1 && echo $$p && break; done)
VENV := .venv/bin
DIST := src/tidy_tinder/web/dist
PORT ?= 8731
# One process more than there are cores, since browser tests wait; NumPy's own threads would only be in their way.
WORKERS ?= $(shell expr $$(nproc 2>/dev/null || echo 2) + 1)
# Memory that was given back and is asked for again costs more than the pictures that are drawn in it: it is kept.
MEMORY := MALLOC_MMAP_THRESHOLD_=1073741824 MALLOC_TRIM_THRESHOLD_=1073741824
PYTEST := OPENBLAS_NUM_THREADS=1 $(MEMORY) $(VENV)/python -m pytest --numprocesses $(WORKERS) --dist worksteal
CHANGED = $(shell { git diff --name-only --diff-filter=d HEAD; git ls-files --others --exclude-standard; } 2>/dev/null)
CHANGED_TESTS = $(foreach path,$(filter-out tests/browser/%,$(filter tests/%.py,$(CHANGED))),$(if $(findstring /test_,$(path)),$(path)))
CHANGED_SCRIPTS = $(patsubst frontend/%,%,$(filter frontend/src/%.ts frontend/src/%.tsx,$(CHANGED)))
FRONTEND_SOURCES := $(shell find frontend/src frontend/public frontend/index.html frontend/vite.config.ts -type f 2>/dev/null)

.PHONY: demo start test check lint benchmark soak fuzz mutants screenshots build clean browser

demo: build ## the invented collection, in .demo/
	$(VENV)/tidy-tinder serve --demo --data .demo --port $(PORT)

start: build ## your own collection, in your own data folder
	$(VENV)/tidy-tinder serve --port $(PORT)

build: .stamps/run $(DIST)/index.html

test: .stamps/dev $(DIST)/index.html browser
	$(PYTEST) --durations 10

check: .stamps/dev .stamps/node ## while working: lint, types, the quick tests, and the scripts and test files that are changed
	$(VENV)/ruff format --check .
	$(VENV)/ruff check .
	$(VENV)/mypy
	cd frontend && npm run -s check $(if $(CHANGED_SCRIPTS),&& npx eslint --max-warnings 0 $(CHANGED_SCRIPTS))
	$(PYTEST) -m "not slow" tests/core tests/formats tests/architecture $(CHANGED_TESTS)

lint: .stamps/dev .stamps/node
	$(VENV)/ruff format --check .
	$(VENV)/ruff check .
	$(VENV)/mypy
	cd frontend && npm run -s check && npm run -s lint

benchmark: .stamps/dev $(DIST)/index.html browser ## some 20 minutes; WHOLE=1: all samples, PARTS="…": some parts
	WHOLE=$(WHOLE) $(VENV)/python -m benchmarks $(PARTS)

soak: .stamps/dev $(DIST)/index.html ## ten minutes of a random artist, killed, on a full disk, with a clock that jumps
	$(VENV)/python -m tools.soak

fuzz: .stamps/dev ## a hundred thousand made-up requests
	$(VENV)/python -m tools.fuzz_often

mutants: .stamps/dev ## small faults put into the code one by one; PARTS="…": some parts
	$(VENV)/python -m tools.mutants $(PARTS)

screenshots: .stamps/dev $(DIST)/index.html browser
	$(VENV)/python -m tools.take_screenshots

clean: ## what was built and installed; no collection is touched but the demo's
	rm -rf .venv .stamps .demo $(DIST) frontend/node_modules .mypy_cache .ruff_cache .pytest_cache .hypothesis

browser:
	@tools/need_test_programs.sh

.stamps/venv:
	@test -n "$(PYTHON)" || { echo "Tidy Tinder needs Python 3.11 or newer with venv: apt-get install python3 python3-venv" >&2; exit 1; }
	$(PYTHON) -m venv .venv
	@mkdir -p .stamps && touch $@

.stamps/run: .stamps/venv requirements-run.txt pyproject.toml
	@test -e .stamps/dev || $(VENV)/pip install -q --disable-pip-version-check --require-hashes -r requirements-run.txt
	$(VENV)/pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e .
	@$(VENV)/python -m compileall -q src/tidy_tinder # else the first start would wait for it
	@touch $@

.stamps/dev: .stamps/venv requirements.txt pyproject.toml
	$(VENV)/pip install -q --disable-pip-version-check --require-hashes -r requirements.txt
	$(VENV)/pip install -q --disable-pip-version-check --no-deps --no-build-isolation -e .
	@$(VENV)/python -m compileall -q src/tidy_tinder
	@touch $@ .stamps/run

.stamps/node: frontend/package-lock.json
	@command -v npm >/dev/null && node -e 'process.exit(+(process.versions.node.split(".")[0] < 20))' || \
		{ echo "Tidy Tinder needs Node 20 or newer with npm: apt-get install nodejs npm" >&2; exit 1; }
	cd frontend && npm ci --silent --no-fund --no-audit
	@mkdir -p .stamps && touch $@

$(DIST)/index.html: .stamps/node $(FRONTEND_SOURCES)
	cd frontend && npm run -s build -- --logLevel warn
	@touch $@
