# Sourced by ./start and ./test from the repository's root: brings in what is missing, and says what it does.

say() { printf 'nolvet: %s\n' "$*" >&2; }
die() { say "$*"; exit 1; }

need_node() {
	command -v node >/dev/null || die "Node.js 20 is needed. On Debian, as root: apt-get install nodejs npm"
	local major
	major=$(node -p 'process.versions.node.split(".")[0]')
	[ "$major" -ge 20 ] || die "Node.js 20 or newer is needed; this is $(node --version)"
}

# need_packages PACKAGE...: Debian packages, installed when we may, otherwise the one command to type is printed.
need_packages() {
	local missing=() package
	for package in "$@"; do
		dpkg-query -W -f '${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing+=("$package")
	done
	[ ${#missing[@]} -gt 0 ] || return 0
	local as=""
	if [ "$(id -u)" != 0 ]; then
		sudo -n true 2>/dev/null || die "missing: ${missing[*]}. Type: sudo apt-get update && sudo apt-get install -y ${missing[*]}"
		as="sudo -n"
	fi
	say "installing ${missing[*]}"
	$as apt-get update -qq >&2 || say "the package lists could not be renewed; trying with the old ones"
	DEBIAN_FRONTEND=noninteractive $as apt-get install -y -qq --no-install-recommends "${missing[@]}" >&2 ||
		die "could not install ${missing[*]}; see the lines above"
}

# Installs the packages of package-lock.json unless they are the ones in place.
need_modules() {
	local want
	want=$(sha1sum < package-lock.json)
	[ "$(cat node_modules/.nolvet-lock 2>/dev/null)" = "$want" ] && return 0
	say "installing npm packages"
	npm ci --no-progress --loglevel=error >&2 || die "npm ci failed; see the lines above"
	printf '%s' "$want" > node_modules/.nolvet-lock
}

# Builds unless the build was made from exactly these sources.
need_build() {
	local want
	want=$(find src static package-lock.json svelte.config.js vite.config.ts -type f ! -name '*.test.ts' -print0 | LC_ALL=C sort -z | xargs -0 sha1sum | sha1sum)
	[ "$(cat build/.nolvet-sources 2>/dev/null)" = "$want" ] && return 0
	say "building"
	npm run --silent build > build.log 2>&1 || { tail -40 build.log >&2; die "the build failed; build.log has it all"; }
	printf '%s' "$want" > build/.nolvet-sources
}

# Bundles the command line unless it was made from exactly these sources.
need_cli() {
	local want
	want=$(find src/cli src/core src/lib/text src/lib/features/aims/kinds package-lock.json tools/cli.mjs -type f ! -name '*.test.ts' -print0 | LC_ALL=C sort -z | xargs -0 sha1sum | sha1sum)
	[ "$(cat dist/.nolvet-sources 2>/dev/null)" = "$want" ] && return 0
	node tools/cli.mjs >&2 || die "the command could not be bundled; see the lines above"
	printf '%s' "$want" > dist/.nolvet-sources
}
