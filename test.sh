#!/usr/bin/env bash
# Runs all tests, and installs what they lack: Chromium's headless shell, from
# Debian's packages. A whole Chromium serves too, three times slower.
# Arguments go to "go test", such as: ./test.sh -run TestThread ./e2e/...
set -euo pipefail
cd "$(dirname "$0")"

if ! command -v chromium-headless-shell >/dev/null && command -v apt-get >/dev/null; then
  as_root=""
  [ "$(id -u)" -eq 0 ] || as_root="sudo"
  echo "installing chromium-headless-shell"
  $as_root apt-get update -q
  $as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends chromium-headless-shell ||
    $as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends chromium
fi

if [ $# -eq 0 ]; then
  set -- ./...
fi
# The memory is there, and a rarer sweep of it takes a tenth of the time away.
export GOGC="${GOGC:-400}"
exec go test -count=1 -timeout 10m "$@"
