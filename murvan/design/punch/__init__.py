"""The punch list: rules with a limit and its basis, and what they find in the results.

What the next stages call: `rules.findings`; `finding` holds the records, the `checks` modules what is looked at.
"""
