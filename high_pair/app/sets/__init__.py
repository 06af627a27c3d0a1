"""The Sets desk: colours that belong together, settled as a family."""
