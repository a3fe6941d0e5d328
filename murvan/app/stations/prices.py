"""What the system costs by the job's book of prices: a line a price, and the price itself on the card."""

from __future__ import annotations

from murvan.app.stations.base import Arith, Button, Buttons, Card, Field_, Fields, Ledger, List_, ListRow, View
from murvan.app.stations.told import Told, headings, row, said
from murvan.design.arithmetic import Arithmetic, Line, Quantity
from murvan.design.parts import Cost, PriceLine, cost_of
from murvan.kinds.prices import PRICES, PriceKind, counted_in
from murvan.model import Job
from murvan.model.edit import changed, replace_part
from murvan.model.prices import PriceBook, PriceItem


def _one(view: View, price: PriceKind) -> tuple[str, float]:
    """What a price is for one of, in the user's units, and how much of its own that is."""
    per, one = counted_in(price.per, view.units)
    return per.replace("2", "²"), one


def costs(view: View) -> Cost:
    """Of all pieces of the design."""
    return cost_of(view.r.cuts.pieces, view.job.prices)


def ledger(view: View) -> Ledger:
    found = costs(view)
    columns = _table(view, found)
    total = {
        "For": f"Together, an hour at {found.hour:,.2f}",
        "Material": f"{found.material:,.0f}",
        "Labour": f"{found.hours:.1f}",
        "Sum": f"{found.money:,.0f}",
    }
    rows = tuple(row(view, columns, ("price", x.price.id), x) for x in found.lines)
    return Ledger(headings(view, columns), rows, (), said(columns, total, None))


def _table(view: View, found: Cost) -> tuple[Told[PriceLine], ...]:
    def one(x: PriceLine) -> float:
        return _one(view, x.price)[1]

    return (
        Told("For", 230, lambda x: x.price.name, align="l", bold=True),
        Told("Quantity", 96, lambda x: f"{x.quantity / one(x):,.1f}"),
        Told("Per", 60, lambda x: _one(view, x.price)[0], align="l"),
        Told("Price", 90, lambda x: f"{x.price.money * one(x):,.2f}"),
        Told("Hours each", 90, lambda x: f"{x.price.hours * one(x):.3f}"),
        Told("Material", 100, lambda x: f"{x.material:,.0f}"),
        Told("Labour", 84, lambda x: f"{x.hours:.1f}", unit="h"),
        Told("Sum", 100, lambda x: f"{x.material + found.hour * x.hours:,.0f}", bold=True),
    )


def card(view: View) -> Card:
    found, book = costs(view), view.job.prices
    kind = view.selected("price") or (found.lines[0].price.id if found.lines else "labour")
    price = book.of(kind)
    line = next((x for x in found.lines if x.price.id == kind), None)
    per, one = _one(view, price)
    typed = any(x.id == kind for x in book.items)
    parts = (_arithmetic(line, found.hour, one),) if line is not None else ()
    others = tuple(
        ListRow(
            PRICES[k].name,
            f"{book.of(k).money * _one(view, PRICES[k])[1]:,.2f}",
            _one(view, PRICES[k])[0],
            key=("price", k),
        )
        for k in PRICES
        if all(x.price.id != k for x in found.lines)
    )
    return Card(
        "Price",
        price.name,
        "none",
        "as typed" if typed else "default",
        ((f"{found.money:,.0f}", "together", "ink"),),
        f"by '{book.name}', without units and outdoor units",
        ((f"{found.material:,.0f}", "material", "ink"), (f"{found.hours:.0f}", "h of labour", "ink")),
        (
            Fields(
                price.name,
                (
                    _field(
                        kind, "money", f"Price for one {per}" if per != "each" else "Price for each", price.money, one
                    ),
                    *((_field(kind, "hours", "Hours for one", price.hours, one),) if kind != "labour" else ()),
                ),
            ),
            Fields("Book of prices", (_book_field("name", "Name", "text", book.name), _rise(book))),
            *parts,
            Buttons(
                (
                    Button("keep", "Keep for all jobs", "K", lambda: view.act.command("build.keep_prices"), True),
                    Button("own", "Take this machine's", "Shift+K", lambda: view.act.command("build.own_prices")),
                )
            ),
            Buttons(
                (
                    Button("read", "Read a CSV", "", lambda: view.act.command("build.read_prices")),
                    Button("write", "Write as CSV", "", lambda: view.act.command("build.write_prices")),
                )
            ),
            List_("Labour, and what is not in this design", "", others),
        ),
    )


def _arithmetic(x: PriceLine, hour: float, one: float) -> Arith:
    q, price, work = Quantity("decimal", x.quantity / one), x.price.money * one, x.price.hours * one
    lines = (
        Line("material", "{0} × {1}", (q, Quantity("price", price)), Quantity("price", x.material)),
        Line("hours", "{0} × {1}", (q, Quantity("work", work)), Quantity("hours1", x.hours)),
        Line(
            "sum",
            "{0} + {1} × {2}",
            (Quantity("price", x.material), Quantity("hours1", x.hours), Quantity("price", hour)),
            Quantity("price", x.material + hour * x.hours),
            True,
        ),
    )
    return Arith(
        Arithmetic(x.price.name, lines, ("Quantities from the list of pieces; prices as the book has them",))
    )


def _field(kind: str, name: str, label: str, value: float, one: float) -> Field_:
    def put(job: Job, typed: float | str) -> Job:
        return with_price(job, kind, **{name: float(typed) / one})

    shown = "price" if name == "money" else "work"
    return Field_(f"prices.{kind}.{name}", label, shown, value * one, put, "Change a price")


def _book_field(name: str, label: str, kind: str, value: str) -> Field_:
    return Field_(
        f"prices.{name}",
        label,
        kind,
        value,
        lambda job, v: replace_part(job, "prices", **{name: v}),
        "Name the prices",
    )


def _rise(book: PriceBook) -> Field_:
    def put(job: Job, typed: float | str) -> Job:
        return replace_part(job, "prices", rise=float(typed))

    return Field_("prices.rise", "Energy, rise a year", "percent", book.rise, put, "Change a price")


def with_price(job: Job, kind: str, **figures: float) -> Job:
    """The job with a price as typed. Raises JobValueError where it is out of range."""
    now = job.prices.of(kind)
    have = {"money": now.money, "hours": now.hours, **figures}
    item = changed(PriceItem(id=kind, money=now.money, hours=now.hours), PRICES[kind].name, **have)
    items = (*(x for x in job.prices.items if x.id != kind), item)
    name = "Own prices" if job.prices.name == PriceBook().name else job.prices.name
    return replace_part(job, "prices", items=items, name=name)
