"""The station House: the plan, what it is made of, and what stands in it."""
