"""The document and its evaluation: designs, kinds of line, proofs."""
