"""Ears and hands, on the bench that is not there."""
