"""The window. It computes nothing; it shows results and makes edits.

main            starts the application
window          arranges the parts below
document        the open job: undo, save, autosave, solving in the background
prefs           units, theme, recent jobs
jobline         the trunk of eight stations on top
sidebar         tools and the rail (storeys, lens, legend)
plan/           the house plan: view, what lies under its texts, layers, labels, strokes
strip, ledger   the station's chart and table
card, worked    the station's card with fields, and its arithmetic laid out
repaint         paints again only what differs
statusline      punch list, units, saved mark
stations/       one file a station: headline, lens, strip, ledger, card
theme/          colours, fonts, icons, style sheet
paint           text, marks and bars drawn the same way everywhere
"""
