# Two commands do everything on a fresh machine with python3 and make: `make demo` and `make test`.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
PORT ?= 8731

.PHONY: demo serve test bench faults fuzz crowd screenshots lint lock clean

$(VENV)/.ready: requirements.lock pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements.lock
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps -e .
	touch $@

demo: $(VENV)/.ready
	$(BIN)/chirotend demo --port $(PORT)

serve: $(VENV)/.ready
	$(BIN)/chirotend serve --port $(PORT)

lint: $(VENV)/.ready
	$(BIN)/ruff check src tests tools
	$(BIN)/ruff format --check src tests tools
	$(BIN)/mypy
	$(BIN)/lint-imports

test: $(VENV)/.ready lint
	@command -v chromium >/dev/null || (apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium)
	$(BIN)/python -m pytest

bench: $(VENV)/.ready
	$(BIN)/python tools/bench.py

# bounded, minutes: kills, full and locked disks, wrong clocks
faults: $(VENV)/.ready
	$(BIN)/python tools/faults.py

# the same requests as in the tests, with seeds of their own, many more
fuzz: $(VENV)/.ready
	FUZZ_REQUESTS=30000 $(BIN)/python -m pytest tests/web/test_fuzz.py -s -k no_request

crowd: $(VENV)/.ready
	$(BIN)/python tools/crowd.py

screenshots: $(VENV)/.ready
	$(BIN)/python tools/screenshots.py

lock:
	$(PYTHON) -m venv build/lock && build/lock/bin/pip install --quiet -r requirements.in
	build/lock/bin/pip freeze > requirements.lock

clean:
	rm -rf $(VENV) build
