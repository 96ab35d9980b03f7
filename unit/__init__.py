"""Unit tests of the interface: each test that Vitest runs is one of Django's, so that all are counted alike."""
