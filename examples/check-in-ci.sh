#!/bin/sh
# The steps of a build, for any CI that runs a shell. $PLAN is the address of a Signal Post, a file, or a folder that “write” made.
set -e
PLAN="${PLAN:--}"
npx --no-install signal-post-check lint "$PLAN" --output junit --to lint.xml
npx --no-install signal-post-check usage "$PLAN" src --baseline signal-post-known.json --output sarif --to usage.sarif
# What the browser tests captured: fails when nothing was sent at all, too.
[ -z "$CAPTURE" ] || npx --no-install signal-post-check events "$PLAN" "$CAPTURE" --min "${MIN:-1}" --output junit --to events.xml
