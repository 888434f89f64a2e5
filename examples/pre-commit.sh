#!/bin/sh
# A hook for git: copy it to .git/hooks/pre-commit and make it executable. It stops a commit whose code sends what the plan does not have.
# Needs signal-post-check (installed as a package) and a signal-post-check.yaml that names the plan.
set -e
# Only when sources are part of the commit.
git diff --cached --name-only --diff-filter=d | grep -Eq '\.(([cm]?[jt]sx?)|vue|svelte|kt|swift|java|py|go)$' || exit 0
npx --no-install signal-post-check usage - src
