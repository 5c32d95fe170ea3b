# Needs Python 3.11+, Node 20+ and make; all tests also apt (or Chromium and Ghostscript).
.DEFAULT_GOAL := help
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
PIP := $(BIN)/python -m pip --quiet --disable-pip-version-check
UV := $(BIN)/uv pip install --quiet --python $(BIN)/python
BUILT := src/flinz/server/page/index.html
# The page, with the guide and the licences of what it is made of.
PAGE := src/flinz/server/page/guide/index.html
PAGE_SOURCES := $(shell find web/src -type f 2>/dev/null) web/index.html web/vite.config.ts web/tsconfig.json
GUIDE := docs/guide.md $(wildcard docs/guide/*) tools/guide.py tools/licences.py
WARM := $(VENV)/.warm
RELEASE := build/release
WHEELS := build/wheels
LARGE := build/photo-6000x4000.jpg

# What Python makes of sources is kept, wherever that is forbidden, too: each command would begin
# with making it again, which takes longer than most of them.
unexport PYTHONDONTWRITEBYTECODE

# Most of what is set up takes one processor: two things at a time.
MAKEFLAGS += -j2

.PHONY: help setup demo test quick check python-check page-check page-tests release wheels bench quality screenshots look-pictures guide photos types format browser

help: ## Show what there is to make
	@grep -hE '^[a-z]+:.*##' $(MAKEFILE_LIST) | sed 's/:.*## /\t/'

setup: $(WARM) $(PAGE) ## Install everything and build the page

# uv installs in a sixth of the time; where it is not to be had, or finds nothing, pip does. What is
# never imported need not be compiled.
$(VENV)/.ready: requirements.lock pyproject.toml
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	$(PIP) install --no-compile uv && $(UV) -r requirements.lock && $(UV) --no-deps -e . || \
	    { $(PIP) install --no-compile -r requirements.lock && $(PIP) install --no-deps -e .; }
	touch $@

# Sources and kernels are compiled here, so that nobody waits for them later.
$(WARM): $(VENV)/.ready $(shell find src/flinz/core -name '*.py' 2>/dev/null)
	$(BIN)/python -m compileall -q src/flinz
	$(BIN)/python -m flinz.core.press.warm
	touch $@

# A photo of 24 MP for benches; made here, since it is too large to ship.
$(LARGE): | $(VENV)/.ready
	$(BIN)/python tools/large_photo.py $@

web/node_modules/.ready: web/package-lock.json web/package.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

$(BUILT): web/node_modules/.ready $(PAGE_SOURCES)
	cd web && npm run --silent build

$(PAGE): $(BUILT) $(VENV)/.ready $(GUIDE)
	$(PYTHON) tools/licences.py
	$(BIN)/python tools/guide.py

# The page is there at once; looks follow as they are compiled, in the background.
demo: $(VENV)/.ready $(PAGE) ## Serve the application with demo data
	$(BIN)/flinz demo

check: setup python-check page-check ## Formatters, linters, types, contracts

python-check: $(VENV)/.ready
	$(BIN)/ruff format --check src tests tools
	$(BIN)/ruff check src tests tools
	$(BIN)/mypy
	$(BIN)/lint-imports --no-cache
	$(BIN)/python tools/openapi.py --check

page-check: web/node_modules/.ready
	cd web && npm run --silent lint && npm run --silent types-check

page-tests: web/node_modules/.ready
	cd web && npm test --silent

# Without what a desktop would have beside them: most of what would be installed.
browser:
	@command -v chromium >/dev/null && command -v chromedriver >/dev/null && command -v gs >/dev/null || \
	    { apt-get update -qq && apt-get install -y -qq --no-install-recommends \
	        chromium chromium-driver ghostscript fonts-liberation; }

quick: check ## Every check, and the tests of core and store on small pictures
	$(BIN)/python -m pytest tests/core tests/store -m 'not photo'

release: $(VENV)/.ready $(PAGE) ## Build wheel and sdist into build/release, the page inside
	rm -rf $(RELEASE)
	$(BIN)/python -m build --quiet --no-isolation --outdir $(RELEASE)

# The release and all that it needs, to be installed where there is no network.
wheels: release
	rm -rf $(WHEELS)
	$(PIP) download --only-binary :all: \
	    --constraint requirements.lock --dest $(WHEELS) $(RELEASE)/*.whl

test: check page-tests browser wheels ## Every check and every test, the browser ones included
	$(BIN)/python -m pytest

quality: setup ## How good the drawings are, on charts and the demo's photos
	$(BIN)/flinz quality

bench: setup $(LARGE) ## Speed, as multiples of one Gaussian blur
	$(BIN)/flinz bench --large $(LARGE)

screenshots: setup browser ## Make docs/screenshots from demo data
	$(BIN)/python tools/screenshots.py

look-pictures: setup ## Draw the pictures of docs/looks.md
	$(BIN)/python tools/look_pictures.py

types: setup ## Write the OpenAPI document and the page's types from the code
	$(BIN)/python tools/openapi.py
	cd web && npm run --silent types

format: setup ## Put all code in the house format
	$(BIN)/ruff format src tests tools
	$(BIN)/ruff check --fix src tests tools
	cd web && npm run --silent format

guide: setup browser ## Walk the guide in the browser, and draw its pictures
	$(BIN)/python tools/guide_walk.py

photos: ## Render the demo's photographs again (hours; see tools/photos/README.md)
	tools/photos/render.sh
