"""What certificates are trusted: made once, for it takes longer than many a request."""

import ssl

TLS = ssl.create_default_context()
