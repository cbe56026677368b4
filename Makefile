# Outrigger. `make demo` serves the demo; `make test` checks everything.
PY := .venv/bin/python
PORT ?= 8000
HOST ?= 127.0.0.1
VAR ?= var
HTTPS ?= 0
TYPES := web/src/api/schema.d.ts
export OUTRIGGER_VAR = $(abspath $(VAR))
export OUTRIGGER_HTTPS = $(HTTPS)
# Servers start by the dozen: what they compile is kept.
export PYTHONDONTWRITEBYTECODE =

.PHONY: setup setup-test build demo dev hooks serve test lint types check-types sources bench soak calls screenshots rates cell pack clean

setup: .venv/ready web/node_modules/ready

.venv/ready: requirements/base.txt
	python3 -m venv .venv
	$(PY) -m pip install -q -r requirements/base.txt
	touch $@

web/node_modules/ready: web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

setup-test: setup .venv/ready-test
	@command -v chromium >/dev/null || (apt-get update -q && apt-get install -q -y --no-install-recommends chromium)

.venv/ready-test: requirements/test.txt | .venv/ready
	$(PY) -m pip install -q -r requirements/test.txt
	touch $@

build: setup
	cd web && npm run -s build
	$(PY) -m whitenoise.compress -q web/dist
	$(PY) -c "import rigging.mechanics.descent"

demo: build
	$(PY) server/manage.py migrate -v0
	@echo; echo "Outrigger: http$(if $(filter 1,$(HTTPS)),s)://$(HOST):$(PORT)"; echo "Sign-ins of the demo:"
	@$(PY) server/manage.py load_demo $(if $(filter 127.0.0.1 localhost ::1,$(HOST)),,--own-passwords)
	@echo "Stop with Ctrl-C."; echo
	@$(MAKE) -s serve

serve:
	@PYTHONPATH=.:server $(PY) server/manage.py serve --listen=$(HOST):$(PORT)

dev: setup
	$(PY) server/manage.py migrate -v0
	@$(PY) server/manage.py load_demo
	@trap 'kill 0' EXIT; (PYTHONPATH=.:server $(PY) server/manage.py serve --listen=127.0.0.1:8000 --reload) & cd web && npm run -s dev

hooks:
	git config core.hooksPath .ci/hooks

types: setup
	@mkdir -p $(VAR)
	$(PY) server/manage.py export_openapi_schema --api config.api.api --output $(VAR)/openapi.json
	cd web && npx --no-install openapi-typescript $(abspath $(VAR))/openapi.json -o src/api/schema.d.ts

check-types: setup
	@cp $(TYPES) $(TYPES).kept && $(MAKE) -s types >/dev/null && (cmp -s $(TYPES) $(TYPES).kept; drift=$$?; rm $(TYPES).kept; \
	  [ $$drift = 0 ] || (echo "the front end's types were out of date: they are made anew now, commit them"; exit 1))

sources: setup
	$(PY) -m rigging.catalogue > docs/sources.md

lint: setup-test check-types
	.venv/bin/ruff check .
	.venv/bin/ruff format --check rigging server tests
	PYTHONPATH=.:server .venv/bin/mypy
	PYTHONPATH=.:server .venv/bin/lint-imports --no-logo
	cd web && npm run -s format && npm run -s lint && npm run -s check

test: setup-test lint build
	$(PY) server/manage.py makemigrations --check --dry-run
	cd web && npm run -s test
	$(PY) -m pytest --numprocesses 2 --dist loadfile --no-loadscope-reorder --durations 10 --doctest-modules rigging/mechanics rigging/site tests

bench: setup-test build
	$(PY) -m tests.bench

soak: setup-test build
	$(PY) -m tests.soak --minutes 30

calls: setup-test build
	$(PY) -m tests.calls

screenshots: setup-test build
	$(PY) -m tests.screenshots

pack: build
	bash packing/pack.sh

clean:
	rm -rf .venv web/node_modules web/dist var

rates: setup-test
	$(PY) -m tests.rates

cell: setup
	PYTHONPATH=.:server $(PY) server/manage.py cell --url http://$(HOST):$(PORT) $(CELL)
