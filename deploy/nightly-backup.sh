#!/usr/bin/env bash
# nightly-backup.sh FOLDER KEEP: a checked copy of TANTO_DATA_DIR under today's date, and the oldest away so that KEEP stay.
set -euo pipefail
into="$1"
keep="$2"
cd "$(dirname "$0")/.."
umask 077
mkdir -p "$into"
# A copy without a file that was lost before is kept, and this ends with the backup's own exit code all the same.
code=0
node scripts/backup.mjs backup "$into/$(date +%Y-%m-%d-%H%M%S)" || code=$?
# Names begin with the date: the oldest come first. Only whole copies count; one that broke off is called .part.
mapfile -t copies < <(find "$into" -mindepth 1 -maxdepth 1 -type d -name '20*' ! -name '*.part' | sort)
for ((i = 0; i < ${#copies[@]} - keep; i++)); do rm -rf -- "${copies[$i]}"; done
exit "$code"
