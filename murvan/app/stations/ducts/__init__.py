"""The station Ducts: the tree over the plan, plenums, the house cut through its ducts, and the whole in space."""
