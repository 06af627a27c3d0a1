"""Web pages: painted by a browser engine, mended by style sheets."""
