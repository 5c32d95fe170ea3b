"""Which Flinz this is."""

VERSION = "0.1.0"
