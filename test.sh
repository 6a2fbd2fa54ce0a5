#!/usr/bin/env bash
# Runs all tests, and installs what they lack: Chromium, from Debian's packages.
# Arguments go to "go test", such as: ./test.sh -run TestThread ./e2e/...
set -euo pipefail
cd "$(dirname "$0")"

if ! command -v chromium >/dev/null && ! command -v chromium-browser >/dev/null && ! command -v google-chrome >/dev/null; then
  as_root=""
  [ "$(id -u)" -eq 0 ] || as_root="sudo"
  echo "installing chromium"
  $as_root apt-get update -q
  DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -q --no-install-recommends chromium
fi

if [ $# -eq 0 ]; then
  set -- ./...
fi
exec go test -count=1 -timeout 10m "$@"
