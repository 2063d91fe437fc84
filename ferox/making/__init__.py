"""Making server files and mocks from what people have at hand."""
