"""The standard as data: criteria, size classes, exemptions, verdicts (WCAG 2.2)."""
