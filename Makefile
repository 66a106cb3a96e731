# Everything from a fresh clone: make demo, make test. Set-up is done as needed.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
STAMP := $(VENV)/.set-up

.PHONY: demo test tests types style bench shots walk lint clean install-desktop uninstall-desktop dist lock

$(STAMP): pyproject.toml requirements.lock scripts/system-libraries
	@rm -f $@
	sh scripts/system-libraries
	$(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --disable-pip-version-check --require-hashes -r requirements.lock
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation --editable .
	$(BIN)/python -m compileall -q src
	touch $@

demo: $(STAMP)
	@$(BIN)/python -m compileall -q src
	@if [ -n "$$DISPLAY$$WAYLAND_DISPLAY" ]; then $(BIN)/ribpatch --demo; \
	else echo "No display: the main views are rendered to pictures instead."; \
	  QT_QPA_PLATFORM=offscreen $(BIN)/python scripts/shots.py build/demo; fi

style: $(STAMP)
	$(BIN)/ruff check src tests scripts
	$(BIN)/ruff format --check src tests scripts
	$(BIN)/lint-imports --no-cache

types: style
	$(BIN)/mypy

lint: style types

# The types are looked at beside the tests: by itself that leaves a core idle.
test: style
	@$(MAKE) --no-print-directory -j 2 types tests

tests: style
	QT_QPA_PLATFORM=offscreen $(BIN)/pytest -n auto --maxprocesses 4 --dist worksteal

bench: $(STAMP)
	QT_QPA_PLATFORM=offscreen $(BIN)/python scripts/bench.py

shots: $(STAMP)
	QT_QPA_PLATFORM=offscreen $(BIN)/python scripts/shots.py docs/screenshots

walk: $(STAMP)
	QT_QPA_PLATFORM=offscreen $(BIN)/python scripts/walk.py

install-desktop: $(STAMP)
	sh scripts/install-desktop "$(CURDIR)/$(BIN)/ribpatch"

# Wheel and source archive, in dist.
dist: $(STAMP)
	rm -rf build/dist dist && mkdir -p dist
	$(BIN)/python scripts/dist.py

# Versions as they are, with the hashes of their files; then the notices of what is installed. To renew versions: make lock NEW=--upgrade
lock: $(STAMP)
	$(PYTHON) -m venv build/lock && build/lock/bin/pip install --quiet 'pip-tools>=7.6,<8'
	build/lock/bin/pip-compile --quiet $(NEW) --generate-hashes --extra dev --allow-unsafe --strip-extras --no-annotate --no-header \
	  --no-emit-index-url --no-emit-find-links --no-emit-trusted-host -o requirements.lock pyproject.toml
	$(BIN)/python scripts/notices.py

uninstall-desktop:
	sh scripts/uninstall-desktop

clean:
	rm -rf $(VENV) build .pytest_cache .mypy_cache .ruff_cache .hypothesis
