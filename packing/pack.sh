#!/usr/bin/env bash
# Makes one archive that installs and runs without any network, for machines like this one. To run: make pack
set -euo pipefail
cd "$(dirname "$0")/.."
version=$(date -u +%Y-%m-%d)-$(git rev-parse --short HEAD)
name=outrigger-$version work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
made=$work/$name
mkdir -p "$made/program/web" "$made/wheels"
echo "$version" > "$made/VERSION"
git archive HEAD rigging server demo requirements docs README.md | tar -x -C "$made/program"
cp -r web/dist "$made/program/web/dist"
cp packing/install.sh packing/outrigger.service "$made/"
.venv/bin/python -m pip download -q --only-binary :all: -d "$made/wheels" -r requirements/base.txt
mkdir -p "${1:-var/pack}"
tar -czf "${1:-var/pack}/$name.tar.gz" -C "$work" "$name"
echo "${1:-var/pack}/$name.tar.gz"
