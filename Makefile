# make demo | wheel | test | test-all | torture | fuzz | sbom | bench [NAMES="matching server"] | shots | vendor | lock | tables | words | clean
PYTHON ?= python3
PORT ?= 8765
VENV := .venv
BIN := $(VENV)/bin
export PIP_DISABLE_PIP_VERSION_CHECK = 1
export PYTHONDONTWRITEBYTECODE =

.PHONY: demo wheel test test-all torture fuzz sbom bench shots vendor lock tables words fix clean packages
.DEFAULT_GOAL := demo

demo: $(VENV)/run.done
	@exec $(BIN)/diachrom demo --port $(PORT)

# For other systems: docs/systems.md.
wheel: $(VENV)/dev.done
	@$(BIN)/python -m flit_core.wheel >/dev/null
	@ls dist/*.whl

# Three workers by file on two cores, since browsers wait for much; the types are checked beside them. Of the sweeps a third
# is run, another one each day; test-all runs them all.
test: export TURN ?= $(shell expr $$(date +%s) / 86400 % 3)
test test-all: $(VENV)/dev.done packages
	@$(BIN)/ruff format --check --quiet . || { echo 'The format differs: run "make fix".' >&2; exit 1; }
	@$(BIN)/ruff check --quiet .
	@$(BIN)/djlint src/diachrom/web/templates --check --quiet >/dev/null || { echo 'A template is not in its form: run "make fix".' >&2; exit 1; }
	@$(BIN)/python tools/format_static.py --check
	@$(BIN)/python tools/catalogue.py --check
	@$(BIN)/lint-imports --no-logo
	@$(BIN)/mypy & types=$$!; \
	$(BIN)/pytest --numprocesses 3 --dist loadfile --no-loadscope-reorder; tests=$$?; \
	wait $$types && exit $$tests

# Clients tap, bring files, pour, put backups back and bring whole benches while the server is killed 460 times: about twenty minutes.
torture: $(VENV)/dev.done
	@$(BIN)/python tools/torture.py
	@$(BIN)/python tools/torture_shelf.py
	@$(BIN)/python tools/torture_bench.py

# Ten thousand requests made from the API's description, and as many forms that nobody means: about half an hour.
fuzz: $(VENV)/dev.done
	@$(BIN)/python tools/fuzz.py

# What is delivered, as CycloneDX, from the lock.
sbom: $(VENV)/dev.done
	@$(BIN)/cyclonedx-py requirements --pyproject pyproject.toml --output-reproducible --output-file sbom.json requirements/run.txt
	@echo sbom.json

bench: $(VENV)/dev.done
	@$(BIN)/python tools/bench.py $(NAMES)

shots: $(VENV)/dev.done packages
	@$(BIN)/python tools/shots.py

vendor: $(VENV)/run.done
	@$(BIN)/python tools/vendor.py

tables: $(VENV)/dev.done
	@$(BIN)/python tools/light_tables.py

fix: $(VENV)/dev.done
	@$(BIN)/ruff check --quiet --fix . ; $(BIN)/ruff format --quiet .
	@$(BIN)/djlint src/diachrom/web/templates --reformat --quiet || true # it answers 1 when it mended something
	@$(BIN)/python tools/format_static.py

# Every sentence into the catalogue, by chapter.
words: $(VENV)/dev.done
	@$(BIN)/python tools/catalogue.py

lock: $(VENV)/dev.done
	@sh tools/lock.sh $(BIN)/uv

packages:
	@sh tools/packages.sh

clean:
	rm -rf $(VENV) .pytest_cache .mypy_cache .ruff_cache .hypothesis .import_linter_cache

# What is installed is what the hashes say; everything a set-up step prints goes to standard error.
$(VENV)/bin/uv: requirements/installer.txt tools/venv.sh
	@sh tools/venv.sh $(PYTHON) $(VENV) >&2
	@touch $(VENV)/bin/uv

$(VENV)/run.done: $(VENV)/bin/uv requirements/run.txt requirements/dev.txt pyproject.toml
	@sh tools/install.sh $(VENV) requirements/run.txt >&2
	@touch $@

$(VENV)/dev.done: $(VENV)/run.done
	@sh tools/install.sh $(VENV) requirements/dev.txt >&2
	@touch $@
