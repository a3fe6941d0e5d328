"""Judges automatic designs by rules written apart from laying and from the punch list: boxes of all ducts against each other
and against the house, every tree's start against its plenum, air and pressure by the circuit's own residual.
`./run judge [N] [SEED]`: ten drawn houses and N random ones, and what fails, by rule and by house."""
