"""Running it: database process, schema, backup, server."""
