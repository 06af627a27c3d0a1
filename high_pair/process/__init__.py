"""Processes in which strangers' bytes are read: started, limited, watched, and ended.

Knows nothing of files or colours: what runs in a process is a function that the
layers above name.
"""
