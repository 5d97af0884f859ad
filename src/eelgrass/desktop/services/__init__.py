"""What every part of the window may ask for: settings, background jobs, reports. No widgets here."""
