"""Laying out the air side of a ducted unit: registers, grilles and ducts, by one key or by hand."""

from murvan.design.lay.ducts import Layout, layouts
from murvan.design.lay.registers import add_register, copy_register, lay_registers, move_register
from murvan.design.lay.whole import whole_layouts

__all__ = ["Layout", "add_register", "copy_register", "lay_registers", "layouts", "move_register", "whole_layouts"]
