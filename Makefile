# Every target sets up what it needs: the environment in .venv, and the libraries that Qt loads.
PY := .venv/bin/python

SECONDS ?= 300
SEED ?= 1

.PHONY: demo test check bench fuzz mutants docs clean

demo: .venv/ready
	@if [ -n "$$DISPLAY$$WAYLAND_DISPLAY" ]; then \
	  sh scripts/system-libraries.sh window && $(PY) -m chalcedon demo/harbour.chal; \
	else \
	  echo "No display: running the example without one."; $(PY) -m chalcedon tour demo/harbour.chal out && \
	  $(PY) -m chalcedon tour demo/greenhouse.chal out/greenhouse; \
	fi

test: .venv/ready
	QT_QPA_PLATFORM=offscreen $(PY) -m pytest -n auto --dist loadfile

check: .venv/ready
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	.venv/bin/mypy
	.venv/bin/lint-imports

bench: .venv/ready
	QT_QPA_PLATFORM=offscreen $(PY) -m benchmarks

# Mutated files through everything, and a random walk over the window, for so long each.
fuzz: .venv/ready
	QT_QPA_PLATFORM=offscreen $(PY) -m fuzz --seconds $(SECONDS) --seed $(SEED)

# Changes single places of the package and lists those that no test notices.
mutants: .venv/ready
	QT_QPA_PLATFORM=offscreen $(PY) -m scripts.mutants --seconds $(SECONDS) --seed $(SEED)

docs: .venv/ready
	QT_QPA_PLATFORM=offscreen $(PY) -m scripts.make_docs

.venv/ready: pyproject.toml scripts/system-libraries.sh
	sh scripts/system-libraries.sh paint
	python3 -m venv .venv
	$(PY) -m pip install --quiet --disable-pip-version-check --editable '.[dev]'
	@touch $@

clean:
	rm -rf .venv out build *.egg-info
