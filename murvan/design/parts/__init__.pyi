from .cut_list import BuyRow as BuyRow
from .cut_list import CutList as CutList
from .cut_list import Piece as Piece
from .cut_list import as_cut as as_cut
from .cut_list import buy_list as buy_list
from .cut_list import size_text as size_text
from .cut_piece import STAGES as STAGES
