"""Sheets on paper."""
