"""Laying out the air side of a ducted unit: registers, grilles and ducts, by one key or by hand."""

from murvan.design.lay.ducts import Layout, kept_layout, layouts
from murvan.design.lay.moving import take_run_away
from murvan.design.lay.place import turned_unit
from murvan.design.lay.registers import add_register, copy_register, lay_registers, move_register
from murvan.design.lay.replaced import replaced_by_laying
from murvan.design.lay.whole import whole_layouts

__all__ = [
    "Layout",
    "add_register",
    "copy_register",
    "kept_layout",
    "lay_registers",
    "layouts",
    "move_register",
    "replaced_by_laying",
    "take_run_away",
    "turned_unit",
    "whole_layouts",
]
