"""Ears and hands on drums that are not there: exercises, thresholds, what to practise next."""
