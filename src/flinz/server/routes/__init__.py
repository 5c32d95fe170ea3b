"""Routes translate: typed input, one call, typed answer."""
