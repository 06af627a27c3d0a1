"""OpenDocument slides: .odp, .otp and flat .fodp (ODF 1.3)."""
