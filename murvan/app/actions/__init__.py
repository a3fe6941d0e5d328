"""What the commands do. The window finds the command; this carries it out."""

from __future__ import annotations

from collections.abc import Callable

from murvan.app.actions.beside import Beside
from murvan.app.actions.files import Files
from murvan.app.actions.house import House
from murvan.app.actions.laying import Laying
from murvan.app.actions.offering import Offering
from murvan.app.actions.own_units import OwnUnits
from murvan.app.actions.papers import Papers
from murvan.app.actions.prices import Prices
from murvan.app.actions.readings import Readings
from murvan.app.actions.shop import ShopSet
from murvan.app.actions.systems import Systems
from murvan.app.actions.training import Train
from murvan.app.actions.views import Views
from murvan.app.desk import Desk


class Actions:
    """What each command runs."""

    def __init__(self, window: Desk) -> None:
        self.window = window
        self.beside, self.papers = Beside(window), Papers(window)
        work = (window, self.beside, self.papers)
        self.files, self.views, self.house = Files(*work), Views(window), House(*work)
        self.systems, self.readings, self.own_units = Systems(*work), Readings(*work), OwnUnits(*work)
        self.offering, self.laying, self.shop = Offering(window), Laying(window), ShopSet(*work)
        self.prices = Prices(*work)
        self.training = Train(window, self.files.may_close, self.files.open_again)
        self.readings.training = self.training
        self.commands: dict[str, Callable[[], object]] = {}
        parts = (self.files, self.views, self.house, self.systems, self.readings, self.own_units)
        for part in (*parts, self.offering, self.laying, self.shop, self.prices, self.training):
            self.commands |= part.commands()

    def run(self, command_id: str) -> None:
        """Carry out a command."""
        area, _, what = command_id.partition(".")
        if area == "go":
            self.window.go(int(what))
        elif area == "tool":
            self.views.take_tool(what)
        else:
            self.commands[command_id]()
