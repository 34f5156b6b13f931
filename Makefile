# Everything starts here: each target sets up what it needs on a fresh machine.
PY   ?= python3
VENV := .venv
BIN  := $(VENV)/bin
OFF  := QT_QPA_PLATFORM=offscreen

.PHONY: wording demo test shots bench accuracy campaign slice mutants lint setup system-libraries demo-photos share guide schemas deb packages clean

## start the window with the demo job
demo: setup
	$(BIN)/jar-tide demo

## lint, types and all tests, with no monitor and no network
test: setup lint
	$(OFF) $(BIN)/python -m pytest --numprocesses 2 --dist worksteal --durations 25 --durations-min 5
	$(OFF) $(BIN)/python -m accuracy --quick

lint: setup
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy

## redraw the pictures of docs/screenshots from the demo job
shots: setup
	$(OFF) $(BIN)/python tools/shots.py docs/screenshots

## times, as ratios against a baseline of the same run
bench: setup
	$(OFF) $(BIN)/python -m benchmarks

## errors against simulated truth, all surfaces; results in accuracy/results.json
accuracy: setup
	$(BIN)/python -m accuracy

## attack the program, SECONDS_EACH seconds with each campaign; counts in docs/reliability.md
campaign: setup
	$(OFF) $(BIN)/python -m campaigns --seconds $(or $(SECONDS_EACH),600) --keep

## the fixed slice of the campaigns that runs with every change
slice: setup
	$(OFF) $(BIN)/python -m campaigns --slice

## change one line at a time: do the tests notice? 80 by chance, SEED=n for the same ones again
mutants: setup
	$(OFF) $(BIN)/python -m campaigns.mutants $(if $(SEED),--seed $(SEED))

## draw the shipped demo photos again
demo-photos: setup
	$(BIN)/python tools/make_demo_photos.py src/jartide/data/demo
	$(BIN)/python tools/make_demo_jars.py src/jartide/data/demo

## write the manual page and the shell completions from the command line's own parser
share: setup
	$(BIN)/python tools/make_share.py src/jartide/data/share

## write the guide in docs/ from the texts of the help
guide: setup
	$(BIN)/python tools/make_guide.py docs

## write the form of a job's file from the records it holds
schemas: setup
	$(BIN)/python tools/make_schemas.py src/jartide/data/schemas

## make wheel and Debian package, and start each away from this folder
packages: setup
	$(OFF) $(BIN)/python -m pytest packaging/checks

## make dist/jar-tide_*.deb, then unpack and start it away from this folder
deb: setup
	sh packaging/make_deb.sh $(BIN) dist
	$(OFF) JARTIDE_DEB=$$(ls -t dist/jar-tide_*.deb | head -1) $(BIN)/python -m pytest packaging/checks

setup: $(VENV)/ready.stamp system-libraries

$(VENV)/ready.stamp: requirements.txt requirements-dev.txt pyproject.toml
	$(PY) -m venv $(VENV) || { sh tools/system_libraries.sh venv && $(PY) -m venv $(VENV); }
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements-dev.txt
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --editable .
	touch $@

system-libraries:
	@sh tools/system_libraries.sh

clean:
	rm -rf $(VENV) build dist .pytest_cache .mypy_cache .ruff_cache

## compile the words of data/locale
wording: setup
	$(BIN)/pybabel compile --directory src/jartide/data/locale --domain jartide
