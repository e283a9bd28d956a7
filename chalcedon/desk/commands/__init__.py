"""Every command, declared once: its name, menu, shortcut, when it can be used. Menus and the finder read this."""

from chalcedon.desk.commands.command import MENUS, Command
from chalcedon.desk.commands.everyday import EVERYDAY
from chalcedon.desk.commands.live import LIVE
from chalcedon.desk.commands.outline import OUTLINE
from chalcedon.desk.commands.place import PLACE

COMMANDS: tuple[Command, ...] = EVERYDAY + OUTLINE + PLACE + LIVE

__all__ = ["COMMANDS", "MENUS", "Command"]
