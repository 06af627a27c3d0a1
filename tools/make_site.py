"""Make the demo's web site: the ferry line's times, fares, booking form and news.

    python -m tools.make_site [FOLDER]

Made-up throughout, from fixed seeds, with the troubles that reviewers meet.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
from PIL import Image

from tools.photographs import bright_sea, fog

FOLDER = Path(__file__).resolve().parent.parent / "high_pair" / "data" / "demo" / "site"

STYLE = """\
/* Ostrel Bay Ferries: the site's one style sheet. */
:root {
  --deep: #12384f;
  --sea: #2f7f97;
  --mist: #9db4bf;
  --sand: #f6f1e6;
  --ink: #22303a;
}

* { box-sizing: border-box; }

body {
  margin: 0;
  background: #ffffff;
  color: var(--ink);
  font: 17px/1.55 Carlito, Calibri, sans-serif;
}

main, .inner { max-width: 1040px; margin: 0 auto; padding: 0 24px; }

/* The menu lies over the photograph. */
.mast {
  min-height: 320px;
  background: #7f9aa8 url("morning-sea.jpg") center / cover no-repeat;
}
.mast nav { display: flex; flex-wrap: wrap; gap: 6px 28px; padding: 18px 0; }
.mast nav a { color: #ffffff; font-weight: 700; text-decoration: none; }
.mast nav a:hover { color: #ffe9a8; }
.mast h1 { margin: 44px 0 4px; font-size: 46px; line-height: 1.1; color: #ffffff; }
.mast .lead { margin: 0; max-width: 30em; font-size: 19px; color: #f4f8fa; }

h2 { margin: 36px 0 10px; font-size: 27px; color: var(--deep); }
h3 { margin: 22px 0 4px; font-size: 19px; color: var(--sea); }
p { margin: 0 0 12px; }

/* Links in running text are told by nothing but their colour. */
main p a { color: #2f6f8f; text-decoration: none; }
main p a:hover { color: #7fb7cf; }

.notice {
  margin: 28px 0;
  padding: 14px 18px;
  border-left: 6px solid #e0a63a;
  background: #fdf0d2;
  color: #b98a2c;
}
.notice strong { color: #8a5f10; }

.hint { color: var(--mist); font-size: 15px; }

table { width: 100%; border-collapse: collapse; margin: 10px 0 22px; }
caption { padding: 6px 0; color: #8a98a1; text-align: left; }
th, td { padding: 8px 12px; text-align: left; }
thead th { background: var(--sea); color: #d7ecf2; }
tbody tr:nth-child(even) { background: #eef4f6; }
td.full { color: #d9776c; }
td.few { color: #c98a1b; }
td.free { color: #2c7a4b; }

form { display: grid; gap: 14px; max-width: 460px; }
label { display: grid; gap: 4px; font-weight: 700; }
input, select {
  padding: 9px 12px;
  border: 1px solid #d5dde1;
  border-radius: 4px;
  background: #ffffff;
  color: var(--ink);
  font: inherit;
  font-weight: 400;
}
input::placeholder { color: #b4c0c6; }
input:focus, select:focus { outline: 3px solid #cfe6ee; }
button {
  justify-self: start;
  padding: 10px 22px;
  border: 0;
  border-radius: 4px;
  background: #4fa3bc;
  color: #ffffff;
  font: inherit;
  font-weight: 700;
}
button:hover { background: #79c2d6; }
button:disabled { background: #d7dfe3; color: #b1bcc2; }
button.clear { padding: 8px; background: #ffffff; }
.clear svg { display: block; stroke: #b9c3c8; stroke-width: 3; fill: none; }

.pair { display: grid; grid-template-columns: 1fr 1fr; gap: 24px; }
.card {
  min-height: 220px;
  padding: 20px;
  background: #b9c4c8 url("fog.jpg") center / cover no-repeat;
  color: #ffffff;
}
.card h3 { color: #ffffff; }
.quiet { background: var(--sand); opacity: .75; padding: 16px 20px; color: #6d5f45; }

footer { margin-top: 48px; padding: 26px 0; background: #16242d; color: #5f7380; }
footer a { color: #6f9fb4; }
footer a:hover { color: #ffffff; }

@media (max-width: 640px) {
  .pair { grid-template-columns: 1fr; }
  .mast h1 { font-size: 32px; margin-top: 20px; }
  th, td { padding: 6px; }
}
"""

MENU = """\
    <nav aria-label="Pages">
      <a href="index.html">Sailings</a>
      <a href="fares.html">Fares</a>
      <a href="booking.html">Booking</a>
      <a href="news.html">News</a>
    </nav>
"""

FOOT = """\
  <footer><div class="inner">
    <p>Ostrel Bay Ferries, Harbour Office, Ostrel Quay. Sailings may change with wind and tide.</p>
    <p><a href="news.html">All notices</a></p>
  </div></footer>
"""


def page(title: str, heading: str, lead: str, body: str) -> str:
    """Give a page of the site."""
    return f"""<!doctype html>
<html lang="en">
<head>
  <meta charset="utf-8">
  <meta name="viewport" content="width=device-width, initial-scale=1">
  <title>{title}</title>
  <link rel="stylesheet" href="site.css">
</head>
<body>
  <header class="mast"><div class="inner">
{MENU}    <h1>{heading}</h1>
    <p class="lead">{lead}</p>
  </div></header>
  <main>
{body}  </main>
{FOOT}</body>
</html>
"""


SAILINGS = page(
    "Sailings",
    "Across the bay in forty minutes",
    "Six crossings a day between Ostrel Quay and the Skerry islands, all year round.",
    """\
    <div class="notice"><strong>From Monday:</strong> the 06:40 sails from the north pier while the
      linkspan is painted. Please allow ten minutes more.</div>
    <h2>Today from Ostrel Quay</h2>
    <table>
      <caption>Times are local. Check-in closes fifteen minutes before sailing.</caption>
      <thead><tr><th>Sails</th><th>Arrives</th><th>Vessel</th><th>Car deck</th></tr></thead>
      <tbody>
        <tr><td>06:40</td><td>07:20</td><td>Fennmark</td><td class="free">Free</td></tr>
        <tr><td>08:30</td><td>09:10</td><td>Fennmark</td><td class="few">Few places</td></tr>
        <tr><td>11:00</td><td>11:40</td><td>Lady Skarn</td><td class="full">Full</td></tr>
        <tr><td>14:15</td><td>14:55</td><td>Fennmark</td><td class="free">Free</td></tr>
      </tbody>
    </table>
    <p>Foot passengers need no booking. Cars do: see the <a href="fares.html">fares for vehicles</a>
      before you come to the quay, and bring the registration papers.</p>
    <p class="hint">Bicycles travel free on the lower deck, as long as there is room for them.</p>
""",
)

FARES = page(
    "Fares",
    "Fares",
    "One fare for every sailing. Children under twelve travel free with an adult.",
    """\
    <h2>Single crossing</h2>
    <table>
      <caption>In crowns, harbour dues included.</caption>
      <thead><tr><th>Who or what</th><th>Single</th><th>Return</th></tr></thead>
      <tbody>
        <tr><td>Adult</td><td>9.50</td><td>17.00</td></tr>
        <tr><td>Car with driver</td><td>34.00</td><td>61.00</td></tr>
        <tr><td>Motorcycle</td><td>18.00</td><td>32.50</td></tr>
      </tbody>
    </table>
    <div class="pair">
      <section class="card"><h3>Islanders’ card</h3>
        <p>Ten crossings for the price of seven, for all who live on the Skerries.</p></section>
      <section class="quiet"><h3>Groups</h3>
        <p>From twelve people on we make an offer: write to the harbour office.</p></section>
    </div>
    <p class="hint">Fares are reviewed every spring.</p>
""",
)

BOOKING = page(
    "Booking",
    "Book a place for your car",
    "You pay at the quay. A place is kept until fifteen minutes before sailing.",
    """\
    <h2>Your crossing</h2>
    <form action="#" method="get">
      <label>Name <input name="name" placeholder="As on your ticket"></label>
      <label>Registration <input name="car" placeholder="Letters and figures"></label>
      <label>Sailing
        <select name="sailing"><option>06:40 to Skerry North</option><option>08:30</option></select>
      </label>
      <label>Voucher <input name="voucher" disabled placeholder="Not in the summer"></label>
      <button type="submit">Keep a place</button>
      <button type="button" disabled>Change a booking</button>
      <button type="reset" class="clear" aria-label="Clear the form">
        <svg viewBox="0 0 24 24" width="24" height="24"><path d="M5 5l14 14M19 5L5 19"/></svg>
      </button>
    </form>
    <p class="hint">We keep your name until the day after you sail.</p>
""",
)

NEWS = page(
    "News",
    "News from the harbour",
    "What changes, and when.",
    """\
    <article><h2>The linkspan is painted</h2>
      <p>For two weeks the first sailing leaves from the north pier. There is a
        <a href="index.html">plan of the piers</a> at the ticket window and on board.</p></article>
    <article><h2>A quieter engine</h2>
      <p>The Lady Skarn is back from the yard with a new engine, and half as loud.</p>
      <div class="notice">Her lower saloon stays closed until the floor is laid.</div></article>
""",
)

PAGES = {
    "index.html": SAILINGS,
    "fares.html": FARES,
    "booking.html": BOOKING,
    "news.html": NEWS,
}


def make(folder: Path) -> Path:
    """Write the site into a folder."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, text in PAGES.items():
        (folder / name).write_text(text, encoding="utf-8")
    (folder / "site.css").write_text(STYLE, encoding="utf-8")
    for name, pixels, width in (
        ("morning-sea.jpg", bright_sea(np.random.default_rng(71)), 1280),
        ("fog.jpg", fog(np.random.default_rng(72)), 900),
    ):
        picture = Image.fromarray(pixels)
        height = round(picture.height * width / picture.width)
        picture.resize((width, height), Image.Resampling.LANCZOS).save(
            folder / name, "JPEG", quality=78
        )
    return folder


if __name__ == "__main__":
    print(make(Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER))
