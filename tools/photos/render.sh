#!/usr/bin/env bash
# Render every photograph again, or those named. See README.md for what must be installed first.
set -euo pipefail
cd "$(dirname "$0")"
: "${DRJIT_LIBLLVM_PATH:?set it to an LLVM 19 library, as README.md says}"
if [ $# -eq 0 ]; then
  set -- scarecrow hedgehog snail watering-can squashes boots sunflower pears
fi
for scene in "$@"; do
  "${PYTHON:-python3}" shoot.py "$scene"
done
