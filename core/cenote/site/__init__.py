"""The document of a site: small, complete, and all that is ever edited."""
