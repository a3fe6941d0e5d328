"""Laying out the air side of a ducted unit: registers and grilles, by one key or by hand."""

from murvan.design.lay.registers import add_register, copy_register, lay_registers, move_register

__all__ = ["add_register", "copy_register", "lay_registers", "move_register"]
