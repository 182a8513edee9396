"""What is derived from sites: kept, previewed and sent to pages."""
