"""Writers of what others read: tables for spreadsheets and handouts."""
