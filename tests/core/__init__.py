"""The rules, by properties and hand-worked cases."""
