# Two commands for a newcomer: make demo, make test.
.PHONY: demo test long fuzz assets bench shots licences release

demo:
	@echo "Starting the demo; a first build takes a few minutes."
	go run ./cmd/chamfer demo

test:
	./scripts/test.sh

# The long random tests, whole: "make test" runs a fixed tenth of them. Half an hour.
long:
	CHAMFER_LONG=1 go test -count=1 -timeout 2h ./...

# Tries each of what reads anything for an hour: forms, people's, archives, damaged files, what comes from a shared log,
# packs, and each format.
FUZZ = web/FuzzForms web/FuzzPeople store/FuzzArchive store/FuzzSalvage store/FuzzTaken store/FuzzUnpack \
  export/FuzzReadDesign export/FuzzReadCuts core/design/FuzzApply core/measure/FuzzParse
fuzz:
	set -e; for t in $(FUZZ); do \
	  go test ./$${t%/*} -run '^$$' -fuzz "^$${t##*/}\$$" -fuzztime 1h -fuzzminimizetime 2x; done

# Rebuilds the styles, the script and the fonts that ship inside the binary.
# Needs Node.js and npm; the results are committed.
assets:
	cd web/assets && npm ci --no-audit --no-fund && npm run build
	go test ./web -run TestAssetsAreCurrent -update

bench:
	go test -run '^$$' -bench . -benchmem ./core/... ./draw

# Refreshes docs/screenshots from the demo data.
shots:
	CHAMFER_SHOTS=docs/screenshots go test ./web -run TestScreenshots -count=1

# What is in the program besides its own code, with versions and licences.
licences:
	mkdir -p dist
	go run ./scripts/licences docs/licences.md dist/LICENCES.txt

# What is given away: programs, packages, a container's parts, licences, a bill of materials (CycloneDX), checksums.
release:
	./scripts/release.sh
