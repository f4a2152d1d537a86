"""The machine: folders, settings, jobs in threads, language, desktop."""
