"""What a screen reader is told: the window's tree over AT-SPI (freedesktop.org, at-spi2-core), with roles, names and values.

Run on a session bus and a display of its own: dbus-run-session xvfb-run python3 access.py OPEN_GLOW
"""
import os
import subprocess
import sys
import tempfile
import time

import gi

gi.require_version("Atspi", "2.0")
from gi.repository import Atspi, GLib  # noqa: E402

# Roles that somebody acts on: each must have a name.
ACTED_ON = {
    "push button", "toggle button", "check box", "radio button", "text", "entry", "combo box", "list", "list item", "menu item",
    "check menu item", "menu", "slider", "spin button", "table", "table cell",
}


def turn(seconds):
    """Lets the answers come."""
    context = GLib.MainContext.default()
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        while context.pending():
            context.iteration(False)
        time.sleep(0.02)


def tree(node, depth=0):
    yield node
    if depth < 40:
        for i in range(node.get_child_count()):
            child = node.get_child_at_index(i)
            if child is not None:
                yield from tree(child, depth + 1)


def shows(node):
    node.clear_cache()  # what was shown before may be hidden by now
    states = node.get_state_set()
    return states.contains(Atspi.StateType.SHOWING) and states.contains(Atspi.StateType.VISIBLE)


def application(process):
    """The program's own root, once it has put itself on the bus."""
    for _ in range(300):
        if process.poll() is not None:
            sys.exit("the program ended with %s" % process.returncode)
        desktop = Atspi.get_desktop(0)
        for i in range(desktop.get_child_count()):
            child = desktop.get_child_at_index(i)
            if child is not None and child.get_process_id() == process.pid and child.get_child_count() > 0:
                return child
        turn(0.1)
    sys.exit("the program never came to the accessibility bus")


def main():
    home = tempfile.mkdtemp()
    environment = dict(os.environ, QT_LINUX_ACCESSIBILITY_ALWAYS_ON="1", QT_QPA_PLATFORM="xcb", LANG="C.UTF-8")
    for name in ("CONFIG", "STATE", "CACHE", "DATA"):
        environment["XDG_%s_HOME" % name] = os.path.join(home, name.lower())
    process = subprocess.Popen([sys.argv[1], "--demo"], env=environment)
    faults = []
    try:
        root = application(process)
        turn(3)
        nodes = [n for n in tree(root) if shows(n)]
        told = {(n.get_role_name(), n.get_name()) for n in nodes}

        def expect(role, name):
            if not any(r == role and name in n for r, n in told):
                faults.append("nothing tells of a %s named %s" % (role, name))

        for node in nodes:
            if node.get_role_name() in ACTED_ON and not node.get_name():
                inside = node.get_parent().get_name() if node.get_parent() else ""
                faults.append("a %s in '%s' has no name" % (node.get_role_name(), inside))
        for node in tree(root):
            if node.get_role_name() in ("text", "entry", "spin button") and not node.get_name():
                faults.append("a hidden field has no name")
        if len(nodes) < 40:
            faults.append("only %d things are told" % len(nodes))
        # The sections are buttons with their summaries, the pieces a list, the menus menus.
        for section in ("Lettering", "Form", "Material", "Sheet", "Ground", "View", "Light", "Finish", "Export"):
            if not any(r in ("push button", "toggle button", "check box") and section in n for r, n in told):
                faults.append("no button tells of the section %s" % section)
        expect("list item", "GALE")
        for menu in ("File", "Edit", "Piece", "View", "Help"):
            if not any(r in ("menu item", "menu") and n.replace("&", "") == menu for r, n in told):
                faults.append("no menu is named %s" % menu)

        # A section opens by its action, and its fields tell names, values and take new ones.
        def find(role, name):
            for n in tree(root):
                if n.get_role_name() in role and name in n.get_name() and shows(n):
                    return n
            return None

        head = find(("push button", "toggle button", "check box"), "Form")
        if head is not None:
            head.do_action(0)
            depth = None
            for _ in range(20):
                turn(0.25)
                depth = depth or find(("text", "entry", "spin button"), "Depth")
            if depth is None:
                faults.append("no field is named Depth after the section Form was opened")
            else:
                before = Atspi.Text.get_text(depth, 0, Atspi.Text.get_character_count(depth))
                if not before or not before[0].isdigit():
                    faults.append("the depth says '%s'" % before)
                if not head.get_state_set().contains(Atspi.StateType.CHECKED):
                    faults.append("the open section Form does not say that it is open")
        picture = [n for n in tree(root) if "picture" in n.get_name().lower() and shows(n)]
        if not picture:
            faults.append("nothing tells of the picture")
    finally:
        process.kill()
        process.wait()
    for role, name in sorted(told) if "-v" in sys.argv else []:
        print("%-14s %s" % (role, name))
    for fault in faults:
        print(fault, file=sys.stderr)
    sys.exit(1 if faults else 0)


main()
