"""The web application: routes that translate, the live connection, and jobs."""
