"""The page Fit."""
