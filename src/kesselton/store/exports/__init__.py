"""Files for other programs: tables, calendars, sound, procedures."""
