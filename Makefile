# The only commands anyone must know. `make demo` and `make test` do everything from nothing.
PORT ?= 8765
PYTHON ?= python3
BIN = .venv/bin
WEB = $(shell find web/src web/public docs/guide docs/tutorials -type f 2>/dev/null) web/index.html web/vite.config.ts web/tsconfig.json

.PHONY: demo run test soak lint shots bench wheel build docs needs clean

demo: build
	@$(BIN)/dravel demo --port $(PORT)

run: build
	@$(BIN)/dravel serve --port $(PORT)

build: .stamps/python .stamps/web

# What Python and what the web needs are fetched side by side.
test: .stamps/venv
	@$(MAKE) --no-print-directory -j2 .stamps/python-dev .stamps/web
	@sh tools/chromium.sh
	@cd web && npm run --silent test
	@$(BIN)/python -m pytest

soak: .stamps/python-dev
	@$(BIN)/python -m tools.soak

lint: .stamps/python-dev .stamps/npm
	@$(BIN)/ruff check src tests bench tools && $(BIN)/ruff format --check src tests bench tools
	@$(BIN)/mypy src/dravel
	@cd web && npm run --silent lint && npx --no-install tsc --noEmit

docs: .stamps/python-dev .stamps/npm
	@$(BIN)/python -m tools.documents
	@cd web && npm run --silent types

shots: .stamps/python-dev .stamps/web
	@sh tools/chromium.sh
	@$(BIN)/python -m tools.shots

bench: .stamps/python-dev .stamps/web
	@sh tools/chromium.sh
	@$(BIN)/python -m bench.run

wheel: .stamps/python-dev .stamps/web
	@$(BIN)/python -m build --no-isolation --wheel --outdir dist . > /dev/null && ls dist/*.whl

needs:
	@sh tools/needs.sh $(PYTHON)

clean:
	rm -rf .venv .stamps web/node_modules src/dravel/api/pages dist build

.stamps/venv:
	@sh tools/needs.sh $(PYTHON)
	@mkdir -p .stamps
	@$(PYTHON) -m venv .venv
	@touch $@

.stamps/python: .stamps/venv requirements.lock pyproject.toml
	@echo "Installing Python packages…"
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check hatchling editables -r requirements.lock -c requirements-dev.lock
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@touch $@

.stamps/python-dev: .stamps/python requirements-dev.lock
	@echo "Installing Python packages for tests…"
	@# The lock names everything; compiling what tests may never import would take longer than the tests save.
	@$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-compile -r requirements-dev.lock
	@touch $@

.stamps/npm: .stamps/venv web/package.json web/package-lock.json
	@echo "Installing web packages…"
	@cd web && npm ci --loglevel=error --no-audit --no-fund
	@touch $@

.stamps/web: .stamps/npm $(WEB)
	@echo "Building the web pages…"
	@cd web && npm run --silent build > ../.stamps/web.log 2>&1 || { cat ../.stamps/web.log; exit 1; }
	@touch $@
