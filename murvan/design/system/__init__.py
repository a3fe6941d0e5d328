"""What serves the rooms: the unit, its air, registers, ducts, plenums, the air circuit, and what has to be built.

What the next stages call: `equipment.equipment`, `airflow.airflow`, `terminals.terminals`, `ducts.ducts`,
`duct_heat.duct_heat`, `network.network`, `plenums.plenums`, `build.cut_list`; `duct_sizes` and `sizing.size_and_balance` edit
the job.
"""
