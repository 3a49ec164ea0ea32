# Two commands do everything on a machine with Rust, Node and make: `make demo` and `make test`.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help
CARGO := cargo
DEBUG := target/debug/murlo
RELEASE := target/release/murlo

.PHONY: help
help: ## Say what can be made
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 16

.PHONY: demo
demo: release ## Build and open a made-up household on a database that is thrown away
	$(RELEASE) demo

.PHONY: release
release: web-build
	$(CARGO) build --release --locked -p murlo

web/node_modules/.package-lock.json: web/package.json web/package-lock.json
	cd web && npm ci
	@touch $@

.PHONY: web-build
web-build: web/node_modules/.package-lock.json
	cd web && npm run build

.PHONY: chromium
chromium:
	scripts/install-chromium

.PHONY: test
test: check web-build chromium ## Everything that must hold before a change lands
	cd web && npm test
	$(CARGO) test --locked --workspace

.PHONY: check
check: web/node_modules/.package-lock.json ## Formatting, lints, layers, types
	$(CARGO) fmt --all --check
	mkdir -p web/dist
	$(CARGO) clippy --locked --workspace --all-targets -- -D warnings
	RUSTDOCFLAGS="-D warnings" $(CARGO) doc --locked --workspace --no-deps --quiet
	scripts/check-layers
	scripts/api-types check
	cd web && npm run lint

.PHONY: types
types: web/node_modules/.package-lock.json ## Renew the front end's types from the API
	scripts/api-types write

.PHONY: format
format: web/node_modules/.package-lock.json ## Format everything
	$(CARGO) fmt --all
	cd web && npm run format

.PHONY: screenshots
screenshots: web-build chromium ## Renew docs/screenshots from the demo
	$(CARGO) build --locked -p murlo
	scripts/screenshots

.PHONY: bench
bench: ## Print the benchmark table
	mkdir -p web/dist
	$(CARGO) bench --locked -p murlo --bench figures
