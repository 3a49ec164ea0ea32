# Two commands do everything on a machine with Rust, Node and make: `make demo` and `make test`.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help
CARGO := cargo
DEMO := target/demo/murlo

.PHONY: help
help: ## Say what can be made
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 16

.PHONY: demo
demo: ## Build and open a made-up household on a database that is thrown away
	@echo "Building the demo: the web application and the server side by side. On two cores the first time takes three to four minutes."
	@$(MAKE) --no-print-directory -j2 web-build demo-crates
	@echo "Putting the two together."
	@$(CARGO) build --profile demo --locked -p murlo
	$(DEMO) demo

# All that does not need the web application, so that it is built beside it.
.PHONY: demo-crates
demo-crates:
	@echo "Building the server."
	$(CARGO) build --profile demo --locked -p murlo --no-default-features

.PHONY: release
release: web-build ## Build the program to run at home: target/release/murlo
	$(CARGO) build --release --locked -p murlo

.PHONY: package
package: release ## Build target/debian/murlo.deb, to install on a small computer at home
	$(CARGO) deb --version >/dev/null 2>&1 || $(CARGO) install --locked cargo-deb@3.8.0
	$(CARGO) deb --no-build --locked -p murlo --output target/debian/murlo.deb

web/node_modules/.package-lock.json: web/package.json web/package-lock.json
	cd web && npm ci
	@touch $@

.PHONY: web-build
web-build: web/node_modules/.package-lock.json
	cd web && npm run build

.PHONY: chromium
chromium:
	scripts/install-chromium

# The crates of the rules, from the ground up.
RULES := murlo-base murlo-chemistry murlo-brewer murlo-chalk murlo-plan murlo-clean murlo-visit murlo-calc murlo-household

.PHONY: test
test: ## Everything that must hold before a change lands, in about ten minutes
	scripts/test

.PHONY: journeys
journeys: web-build chromium ## The browser journeys that `make test` leaves out
	@# Compiled as `make test` compiles, so that nothing is built twice.
	MURLO_JOURNEYS="--grep-invert @core" RUSTC_WORKSPACE_WRAPPER=clippy-driver CLIPPY_ARGS=-Dwarnings__CLIPPY_HACKERY__ $(CARGO) test --locked --workspace --test journeys

.PHONY: nightly
nightly: ## The long forms of the tests; takes hours
	ANY_DAY=whole scripts/any-day
	$(MAKE) drawn faults coverage lived bench mutants

.PHONY: drawn
drawn: ## Run the rules' property tests with fresh seeds, ten times over
	for i in $$(seq 10); do $(CARGO) test --locked $(RULES:%=-p %) --lib; done

.PHONY: faults
faults: ## Pull the plug a thousand times, try 20,000 damaged files, ask 200,000 questions without sense; takes long
	mkdir -p web/dist
	MURLO_FAULTS=1000 MURLO_KILLED=200 $(CARGO) test --release --locked -p murlo --test all -- faults:: killed::
	MURLO_IMPORTS=20000 MURLO_FUZZ=2000 $(CARGO) test --release --locked -p murlo-server --test all -- imports:: documented::

.PHONY: lived
lived: ## Live a hundred household-years with brewers and people that are otherwise than was told; about half an hour
	mkdir -p web/dist
	MURLO_LIVED_YEARS=100 MURLO_LIVED_CLEANERS=50 $(CARGO) test --release --locked -p murlo-lived --test lived -- --nocapture

.PHONY: mutants
mutants: ## Change the rules one by one and see that a test fails; takes hours, ONLY=crates/.../FILE.rs or SHARD=1/40 for less
	$(CARGO) mutants --version >/dev/null 2>&1 || $(CARGO) install --locked cargo-mutants@27.0.0
	$(CARGO) mutants --test-workspace=true $(RULES:%=-p %) $(if $(ONLY),-f $(ONLY)) $(if $(SHARD),--shard $(SHARD)) -- $(RULES:%=-p %)

.PHONY: check
check: web/node_modules/.package-lock.json ## Formatting, lints, order of the house, dependencies, types
	$(CARGO) fmt --all --check
	mkdir -p web/dist
	$(CARGO) clippy --locked --workspace --all-targets -- -D warnings
	scripts/check-layers
	scripts/check-dependencies
	scripts/api-types check
	cd web && npm run lint

.PHONY: docs
docs: ## The documentation of every crate, without a warning
	RUSTDOCFLAGS="-D warnings" $(CARGO) doc --locked --workspace --no-deps --quiet

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

.PHONY: everyday
everyday: ## Print everyday cleans of every family beside what people do
	$(CARGO) run --locked --quiet -p murlo-plan --example everyday

.PHONY: coverage
coverage: ## Print how often the due window holds: by simulation of the rules alone, and of three hundred brewers over HTTP
	$(CARGO) run --locked --quiet --release -p murlo-chalk --example coverage
	mkdir -p web/dist
	$(CARGO) run --locked --quiet --release -p murlo-lived --example coverage

.PHONY: bench
bench: web-build chromium ## Print the benchmark table
	$(CARGO) bench --locked -p murlo --bench figures
	scripts/bench-plans
	scripts/first-load
	$(CARGO) build --release --locked -p murlo
	scripts/bench-views
