#!/usr/bin/env bash
# Holds every source to .clang-format.   usage: format.sh ROOT
set -euo pipefail
cd "$1"
find src tests bench docs \( -name '*.cpp' -o -name '*.h' \) -print0 | xargs -0 -n 40 -P "$(nproc)" clang-format --dry-run -Werror
