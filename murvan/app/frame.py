"""The window's parts and where they stand: job line, tools, plan, strip, table, card, and the sheets over them."""

from __future__ import annotations

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QIcon, QResizeEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QMainWindow, QVBoxLayout, QWidget

from murvan.app.asksheet import AskSheet
from murvan.app.card import CardView
from murvan.app.designs import DesignSheet
from murvan.app.guidesheet import GuideSheet
from murvan.app.jobline import JobLine
from murvan.app.layoutsheet import LayoutSheet
from murvan.app.ledger import LedgerView
from murvan.app.overlays import FindBox, KeySheet, PunchSheet
from murvan.app.pacesheet import PaceSheet
from murvan.app.page import PageView
from murvan.app.plan.view import PlanView
from murvan.app.prefs import Prefs
from murvan.app.proposals import ProposalSheet
from murvan.app.sidebar import Rail, ToolColumn
from murvan.app.statusline import StatusLine
from murvan.app.strip import StripView
from murvan.app.theme import icon
from murvan.app.trainsheet import TrainSheet
from murvan.app.traversesheet import TraverseSheet
from murvan.app.trouble import TroubleSheet
from murvan.app.unitsheet import UnitSheet

LEDGER_MIN = 188


class Frame(QMainWindow):
    """All parts of the window, laid out; they know nothing of each other."""

    def __init__(self, prefs: Prefs) -> None:
        super().__init__()
        self.prefs = prefs
        self.setObjectName("window")
        self.setMinimumSize(1000, 600)
        self.resize(1280, 800)
        self.setWindowIcon(QIcon(icon("murvan", 64, "")))
        self.jobline, self.tools, self.rail = JobLine(), ToolColumn(), Rail()
        self.plan, self.page, self.strip = PlanView(), PageView(), StripView()
        self.ledger, self.card, self.status = LedgerView(), CardView(), StatusLine()
        self.setCentralWidget(self._lay_out())
        centre = self.centralWidget()
        assert centre is not None
        self.punch, self.keys, self.guide = PunchSheet(centre), KeySheet(centre), GuideSheet(centre)
        self.designs = DesignSheet(centre)
        self.trouble = TroubleSheet(centre)
        self.pace = PaceSheet(centre)
        self.own_unit = UnitSheet(centre)
        self.offers = ProposalSheet(centre)
        self.layouts = LayoutSheet(centre)
        self.asking = AskSheet(centre)
        self.training = TrainSheet(centre)
        self.traverse = TraverseSheet(centre)
        self.find_box = FindBox(centre)

    def _lay_out(self) -> QWidget:
        """The parts beside each other: what is looked at grows, the rest keeps its size."""
        centre = QWidget()
        centre.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        outer = QVBoxLayout(centre)
        middle, left, top, canvas = QHBoxLayout(), QVBoxLayout(), QHBoxLayout(), QVBoxLayout()
        self.sheet = QWidget()
        plan_row = QHBoxLayout(self.sheet)
        for layout in (outer, middle, left, top, canvas, plan_row):
            layout.setContentsMargins(0, 0, 0, 0)
            layout.setSpacing(0)
        plan_row.addWidget(self.rail)
        plan_row.addWidget(self.plan, 1)
        plan_row.addWidget(self.page, 1)
        canvas.addWidget(self.sheet, 1)
        canvas.addWidget(self.strip)
        top.addWidget(self.tools)
        top.addLayout(canvas, 1)
        left.addLayout(top, 1)
        left.addWidget(self.ledger)
        middle.addLayout(left, 1)
        middle.addWidget(self.card)
        outer.addWidget(self.jobline)
        outer.addLayout(middle, 1)
        outer.addWidget(self.status)
        return centre

    def apply_look(self) -> None:
        """Colours, units and sizes as the user likes them."""
        t = self.prefs.theme
        app = QApplication.instance()
        if isinstance(app, QApplication):
            sheet = t.style_sheet(self.prefs.glove)
            if app.styleSheet() != sheet:  # every widget is polished anew
                app.setPalette(t.palette())
                app.setStyleSheet(sheet)
        for w in (
            self.jobline,
            self.tools,
            self.rail,
            self.plan,
            self.page,
            self.strip,
            self.ledger,
            self.card,
            self.status,
            self.punch,
            self.designs,
            self.keys,
            self.guide,
            self.trouble,
            self.pace,
            self.own_unit,
            self.offers,
            self.layouts,
            self.asking,
            self.training,
            self.traverse,
        ):
            w.theme = t
            w.update()
        self.plan.sheet.units = self.card.units = self.prefs.units
        self.ledger.row_height = 32 if self.prefs.glove else 20
        self.card.glove = self.prefs.glove
        self.tools.set_glove(self.prefs.glove)

    def show_canvas(self, plan: bool, rail: bool = False) -> None:
        """Plan with rail and strip, or the page that stands in for them; `rail` keeps the rail beside the page."""
        self.plan.setVisible(plan)
        self.strip.setVisible(plan)
        self.page.setVisible(not plan)
        self.rail.setVisible(plan or rail)
        self.rail.bare = not plan

    def fit_ledger(self) -> None:
        ledger = self.ledger.ledger
        row = self.ledger.row_height
        want = 48 + row * (len(ledger.rows) + len(ledger.other)) if ledger else LEDGER_MIN
        most = LEDGER_MIN + max(0, (self.height() - 800) // 2)
        self.ledger.setFixedHeight(min(max(want, LEDGER_MIN), most))
        self._place_sheets()

    def _place_sheets(self) -> None:
        area = QRect(66, 96, self.width() - 330 - 76, self.height() - 96 - 36)
        self.punch.setGeometry(area)
        self.designs.place(area)
        self.pace.setGeometry(area.adjusted(0, 0, 0, -self.ledger.height()))
        self.own_unit.setGeometry(area)
        self.offers.setGeometry(area)
        self.layouts.setGeometry(area)
        self.asking.setGeometry(area.adjusted(area.width() // 6, 40, -area.width() // 6, -area.height() // 6))
        self.training.setGeometry(area.adjusted(area.width() // 10, 10, -area.width() // 10, -10))
        self.traverse.setGeometry(area)
        self.keys.setGeometry(area)
        self.guide.setGeometry(area)
        self.trouble.setGeometry(area)
        self.find_box.setGeometry(
            area.left() + (area.width() - 460) // 2, area.top() + 20, 460, min(360, area.height() - 40)
        )

    def resizeEvent(self, e: QResizeEvent | None) -> None:
        super().resizeEvent(e)
        self.fit_ledger()
