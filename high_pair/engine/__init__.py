"""The browser engine, in a process of its own: it loads, paints and tells web pages.

`python -m high_pair.engine` is started by `formats.web.engine_process`, which
speaks with it by `wire`. Qt is imported by the modules of the process alone.
"""
