"""The pool itself: shape, volume, equipment, traits."""
