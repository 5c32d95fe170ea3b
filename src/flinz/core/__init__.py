"""The computation: draws any sheet with no server, no database and no page."""
