# Two commands do everything on a fresh machine with python3 and make: `make demo` and `make test`.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
PORT ?= 8731

.PHONY: pango camera demo serve test tests bench faults fuzz crowd mutants validate truth laws promises screenshots lint lock clean

# packages are compiled when they are first used: most never are
PIP := $(BIN)/pip install --quiet --disable-pip-version-check --no-compile
# what the application needs; what checks it besides is installed only where it is checked
READY := $(VENV)/.ready
CHECKED := $(VENV)/.checked

$(READY): requirements.lock pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(PIP) --require-hashes -r requirements.lock
	$(PIP) --no-deps -e .
	touch $@

$(CHECKED): $(READY) requirements-dev.lock
	$(PIP) --require-hashes -r requirements-dev.lock
	touch $@

# the library that PDFs are set with; without it the page says what to do instead
PANGO := libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0
pango:
	@ldconfig -p | grep -q libpangoft2 || (apt-get update -qq && apt-get install -y -qq --no-install-recommends $(PANGO)) \
	  || echo "No Pango here: the score cannot be made a PDF, only printed."

demo: $(READY) pango
	$(BIN)/chirotend demo --port $(PORT)

serve: $(READY)
	$(BIN)/chirotend serve --port $(PORT)

# suggests points on pictures to the server of a data folder (DATA=); optional, some 425 MB in an environment of its own
CAMERA := .venv-camera
$(CAMERA)/.ready: requirements-camera.lock
	$(PYTHON) -m venv $(CAMERA)
	$(CAMERA)/bin/pip install --quiet --disable-pip-version-check --no-deps --require-hashes -r requirements-camera.lock
	touch $@

camera: $(CAMERA)/.ready
	PYTHONPATH=src GLOG_minloglevel=2 TF_CPP_MIN_LOG_LEVEL=3 $(CAMERA)/bin/python -m chirotend.camera $(DATA)

lint: $(CHECKED)
	$(BIN)/ruff check src tests tools
	$(BIN)/ruff format --check src tests tools
	$(BIN)/mypy
	$(BIN)/lint-imports
	$(BIN)/vulture
	$(BIN)/djlint --lint --quiet src/chirotend/web/templates

# the linters beside the tests: one waits for little where the other works
test: $(CHECKED) pango
	@command -v chromium >/dev/null || (apt-get update -qq && apt-get install -y -qq --no-install-recommends chromium)
	$(MAKE) --jobs=2 lint tests

tests: $(CHECKED)
	$(BIN)/python -m pytest -n auto --dist worksteal --durations 20 --durations-min 1

bench: $(CHECKED)
	$(BIN)/python tools/bench.py

# bounded, minutes: kills, full and locked disks, wrong clocks
faults: $(CHECKED)
	$(BIN)/python tools/faults.py

# the same requests as in the tests, with seeds of their own, some 30,000: each round sends one to three
fuzz: $(CHECKED)
	FUZZ_REQUESTS=16800 $(BIN)/python -m pytest tests/web/test_fuzz.py -s -k no_request

# the twelve laws on many more lives lived through the pages, with seeds of their own: minutes to hours, LIVES= how many
LIVES ?= 200
laws: $(CHECKED)
	LAWS_LIVES=$(LIVES) $(BIN)/python -m pytest tests/laws -n auto -q

# a sample of all small changes to the code, and the tests that should notice: hours, MUTANTS= a folder
MUTANTS ?= 20
mutants: $(CHECKED)
	$(PYTHON) -m venv build/mutants && build/mutants/bin/pip install --quiet cosmic-ray==8.7.0
	$(BIN)/python tools/mutants.py $(MUTANTS)

crowd: $(CHECKED)
	$(BIN)/python tools/crowd.py

# early signs and the call on invented players, with an oracle beside: minutes; writes docs/validation.*
validate: $(CHECKED)
	$(BIN)/chirotend validate --out docs

# what every measure shows beside what was true, as a page of the docs
truth: $(CHECKED)
	$(BIN)/python tools/truth.py

# what the tests hold, as a page of the docs
promises:
	$(PYTHON) tools/promises.py

screenshots: $(CHECKED)
	$(BIN)/python tools/screenshots.py

# what the models are trained and drawn with; their worker runs without
NOT_CAMERA := jax jaxlib ml-dtypes opencv-contrib-python opt-einsum scipy sentencepiece
lock:
	$(PYTHON) -m venv build/lock && build/lock/bin/pip install --quiet pip-tools
	for part in requirements requirements-dev; do \
	  build/lock/bin/pip-compile --quiet --generate-hashes --allow-unsafe --strip-extras --no-annotate --no-header \
	    --no-emit-index-url --no-emit-trusted-host --no-emit-options -o $$part.lock $$part.in; done
	build/lock/bin/pip-compile --quiet --generate-hashes --strip-extras --no-annotate --no-header --no-emit-index-url \
	  --no-emit-trusted-host --no-emit-options $(NOT_CAMERA:%=--unsafe-package %) -o requirements-camera.lock \
	  requirements-camera.in

clean:
	rm -rf $(VENV) $(CAMERA) build
