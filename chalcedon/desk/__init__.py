"""The Qt Widgets application."""

from chalcedon.collector import collector_paused

with collector_paused():
    # Qt's bindings read the source of every module that is imported after them, so what does without Qt comes first
    import chalcedon.craft.arrange
    import chalcedon.craft.checkup
    import chalcedon.files.recovery
    import chalcedon.files.shelf
    import chalcedon.files.svgout
    import chalcedon.hit
    import chalcedon.live.live
    import chalcedon.source.answers  # noqa: F401
