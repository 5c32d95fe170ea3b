"""Order, memory and stopping: what depends on what, and what is remembered."""
