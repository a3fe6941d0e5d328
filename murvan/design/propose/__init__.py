"""What would you put in? Complete designs for a house, from which one is taken up."""

from murvan.design.propose.offer import Proposal, as_option, proposals, taken_up

__all__ = ["Proposal", "as_option", "proposals", "taken_up"]
