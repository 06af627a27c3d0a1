"""Putting elements where a schema wants them: the orders as data, and one way to insert.

Source: ECMA-376 Part 1, the sequences of the clauses named.
"""

from __future__ import annotations

from collections.abc import Sequence

from high_pair.formats.xml import Element, children, local_name

FILLS = ("noFill", "solidFill", "gradFill", "blipFill", "pattFill", "grpFill")
EFFECTS = ("effectLst", "effectDag")
# Of a run in DrawingML (§21.1.2.3.9).
DRAWING_RUN = (
    "ln", *FILLS, *EFFECTS, "highlight", "uLnTx", "uLn", "uFillTx", "uFill", "latin", "ea", "cs",
    "sym", "hlinkClick", "hlinkMouseOver", "rtl", "extLst",
)  # fmt: skip
# Of a paragraph in DrawingML (§21.1.2.2.7).
DRAWING_PARAGRAPH = (
    "lnSpc", "spcBef", "spcAft", "buClrTx", "buClr", "buSzTx", "buSzPct", "buSzPts", "buFontTx",
    "buFont", "buNone", "buAutoNum", "buChar", "buBlip", "tabLst", "defRPr", "extLst",
)  # fmt: skip
# Of a shape (§20.1.2.2.35), of a table's cell (§21.1.3.17), of a page's background (§19.3.1.2).
SHAPE = (
    "xfrm", "custGeom", "prstGeom", *FILLS, "ln", *EFFECTS, "scene3d", "sp3d", "extLst",
)  # fmt: skip
TABLE_CELL = (
    "lnL", "lnR", "lnT", "lnB", "lnTlToBr", "lnBlToTr", "cell3D", *FILLS, "headers", "extLst",
)  # fmt: skip
BACKGROUND = (*FILLS, *EFFECTS, "extLst")
# Of a run in a document (§17.3.2.28), as far as edits need it.
RUN = (
    "rStyle", "rFonts", "b", "bCs", "i", "iCs", "caps", "smallCaps", "strike", "dstrike",
    "outline", "shadow", "emboss", "imprint", "noProof", "snapToGrid", "vanish", "webHidden",
    "color", "spacing", "w", "kern", "position", "sz", "szCs", "highlight", "u", "effect", "bdr",
    "shd", "fitText", "vertAlign", "rtl", "cs", "em", "lang", "eastAsianLayout", "specVanish",
    "oMath",
)  # fmt: skip
# Of a paragraph in a document (§17.3.1.26).
PARAGRAPH = (
    "pStyle", "keepNext", "keepLines", "pageBreakBefore", "framePr", "widowControl", "numPr",
    "suppressLineNumbers", "pBdr", "shd", "tabs", "suppressAutoHyphens", "kinsoku", "wordWrap",
    "overflowPunct", "topLinePunct", "autoSpaceDE", "autoSpaceDN", "bidi", "adjustRightInd",
    "snapToGrid", "spacing", "ind", "contextualSpacing", "mirrorIndents", "suppressOverlap", "jc",
    "textDirection", "textAlignment", "textboxTightWrap", "outlineLvl", "divId", "cnfStyle", "rPr",
    "sectPr", "pPrChange",
)  # fmt: skip
# Of a cell in a document (§17.4.69).
CELL = (
    "cnfStyle", "tcW", "gridSpan", "hMerge", "vMerge", "tcBorders", "shd", "noWrap", "tcMar",
    "textDirection", "tcFitText", "vAlign", "hideMark",
)  # fmt: skip
# Of a style (§17.7.4.17), and of a part of a table's style (§17.7.6.6).
STYLE = ("name", "aliases", "basedOn", "next", "link", "autoRedefine", "hidden",
    "uiPriority", "semiHidden", "unhideWhenUsed", "qFormat", "locked", "personal",
    "personalCompose", "personalReply", "rsid", "pPr", "rPr", "tblPr", "trPr", "tcPr",
    "tblStylePr")  # fmt: skip
# A font of a workbook (§18.8.22), and properties of a run in a cell (§18.4.7).
FONT = (
    "b", "i", "strike", "condense", "extend", "outline", "shadow", "u", "vertAlign", "sz",
    "color", "name", "rFont", "family", "charset", "scheme",
)  # fmt: skip
# A differential format (§18.8.14).
DIFFERENCE = ("font", "numFmt", "fill", "alignment", "border", "protection", "extLst")


def drop(parent: Element, *names: str) -> None:
    """Take away the children of some names."""
    for each in list(children(parent)):
        if local_name(each) in names:
            parent.remove(each)


def put(parent: Element, element: Element, order: Sequence[str]) -> None:
    """Put an element where an order wants it; one of its name is replaced.

    That is before the first sibling that the order doesn't have before it. Siblings of another
    namespace, which extensions have, come last.
    """
    name, space = local_name(element), _namespace(element)
    own = [each for each in children(parent) if _namespace(each) == space]
    for each in own:
        if local_name(each) == name:
            parent.replace(each, element)
            return
    earlier = set(order[: order.index(name)])
    following = next((each for each in own if local_name(each) not in earlier), None)
    if following is not None:
        following.addprevious(element)
    elif own:
        own[-1].addnext(element)
    else:
        parent.insert(0, element)


def put_one_of(
    parent: Element, element: Element, order: Sequence[str], names: Sequence[str]
) -> None:
    """Put an element in the place of whichever of some names is there: of a fill, for one."""
    drop(parent, *names)
    put(parent, element, order)


def _namespace(element: Element) -> str:
    return str(element.tag).rpartition("}")[0]
