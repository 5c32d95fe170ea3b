"""The stages every plate runs, as plain functions of arrays and a parameter model."""
