"""Files for the desktop: `eelgrass desktop-entry` puts them in their places."""
