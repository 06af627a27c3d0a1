"""DrawingML, which slides, documents and spreadsheets share (ECMA-376 Part 1 §20)."""
