"""Flinz turns photographs into black-and-white artwork that prints."""

__version__ = "0.1.0"
