# Every target sets up what it needs first; a second run finds it done and goes straight on.
VENV := .venv
PYTHON := $(VENV)/bin/python
# Tests and pictures need no monitor: Qt paints offscreen.
# One thread for small matrices: as many test processes run as there are cores.
OFFSCREEN := QT_QPA_PLATFORM=offscreen OPENBLAS_NUM_THREADS=1
# Sets of words come in the same order each time: what fails once can be seen again.
REPEATED := PYTHONHASHSEED=0
# Modules are compiled once, not in each of the hundreds of processes that tests start.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: demo test lint bench screenshots setup test-setup lock clean

demo: setup
	@$(VENV)/bin/yarvel --demo

test: test-setup lint
	@# Two runs, so that no process holds both all windows and all libraries.
	@failed=0; for part in "tests/desk" "tests --ignore=tests/desk"; do \
		$(OFFSCREEN) $(REPEATED) $(PYTHON) -m pytest -n auto --dist worksteal $$part || failed=1; done; exit $$failed

lint: setup
	$(VENV)/bin/ruff check src tests bench tools
	$(VENV)/bin/mypy
	$(VENV)/bin/mypy --explicit-package-bases bench tools
	$(VENV)/bin/lint-imports --no-cache

bench: test-setup
	$(OFFSCREEN) $(PYTHON) bench/run.py

screenshots: setup
	$(OFFSCREEN) $(PYTHON) tools/screenshots.py

setup:
	@sh tools/setup.sh

# The tests of a team store want a PostgreSQL beside that; a workshop that only uses Yarvel does not.
test-setup:
	@sh tools/setup.sh tests

# Needs uv; writes names, versions and hashes only.
lock:
	uv pip compile pyproject.toml --extra dev --universal --python-version 3.11 --generate-hashes \
	  --no-emit-index-url --no-emit-find-links --no-header -o requirements.lock

clean:
	rm -rf $(VENV) .setup
