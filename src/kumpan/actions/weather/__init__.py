"""The weather of pools' places."""
