"""python -m flinz."""

from flinz.cli import main

main()
