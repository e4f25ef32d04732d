// The pages of a report. Everything that is said comes from report.json as strings, which are shown as they are.
#let report = json("report.json")
#let ink2 = rgb("#4b5761")
#let line-colour = rgb("#c4cbc1")

#set document(title: report.title, author: "Winnower", date: none)
#set page(
  paper: "a4",
  margin: (top: 22mm, bottom: 20mm, x: 20mm),
  footer: context align(right, text(font: report.sans, size: 9pt, fill: ink2, counter(page).display())),
)
#set text(font: report.serif, size: 10.5pt, fill: rgb("#17212a"), lang: "en")
#set par(leading: 0.62em, spacing: 0.95em)

#show heading: set text(font: report.sans)
#show heading: set block(sticky: true)
#show heading.where(level: 1): it => block(
  width: 100%, above: 2em, below: 0.9em, inset: (bottom: 0.25em), stroke: (bottom: 0.75pt + line-colour),
  text(size: 15pt, it.body),
)
#show heading.where(level: 2): it => block(above: 1.6em, below: 0.7em, text(size: 12pt, it.body))
#show heading.where(level: 3): set text(size: 10.5pt)
#show heading.where(level: 4): set text(size: 10pt)
// addresses and the like are broken where the line ends
#show regex("[!-~]{32,}"): it => it.text.clusters().chunks(12).map(part => part.join()).join(sym.zws)
#show link: set text(fill: rgb("#1b5f79"))

#let lines(words) = words.split("\n").join(linebreak())
#let small(body) = text(font: report.sans, size: 8.5pt, fill: ink2, body)
#let missing(words) = text(fill: rgb("#a5401d"), words)
#let caption(block) = text(font: report.sans, size: 9pt, weight: 600, block.label + ". " + block.caption)

#let inline(nodes) = {
  for node in nodes {
    let kind = node.kind
    if kind == "words" { node.words }
    else if kind == "strong" { strong(inline(node.inside)) }
    else if kind == "em" { emph(inline(node.inside)) }
    else if kind == "s" { strike(inline(node.inside)) }
    else if kind == "code" { raw(node.words) }
    else if kind == "link" { link(node.address, inline(node.inside)) }
    else if kind == "break" { linebreak() }
  }
}

#let prose(nodes) = {
  for node in nodes {
    let kind = node.kind
    if kind == "paragraph" { par(inline(node.inside)) }
    else if kind == "heading" { block(above: 1.2em, sticky: true, text(font: report.sans, weight: 600, inline(node.inside))) }
    else if kind == "bullets" { list(..node.items.map(prose)) }
    else if kind == "numbers" { enum(start: node.start, ..node.items.map(prose)) }
    else if kind == "quote" { pad(left: 1em, prose(node.inside)) }
    else if kind == "code" { raw(node.words, block: true) }
    else if kind == "rule" { line(length: 100%, stroke: 0.5pt + line-colour) }
    else if kind == "table" {
      table(columns: node.across, stroke: (bottom: 0.5pt + line-colour), inset: (left: 0pt, right: 10pt, y: 3pt),
        ..node.cells.map(inline))
    }
  }
}

#let quoted(it) = block(
  breakable: false, above: 1.1em, below: 1.1em, inset: (left: 9pt, y: 1pt), stroke: (left: 2.25pt + rgb("#d8b03c")),
  quote(block: false, quotes: false, lines(it.words)) + linebreak() + small("— " + it.origin),
)

#let grid-of(it) = {
  let side = it.columns.map(one => if one.number { right } else { left })
  // an interval is not taken apart where a line ends
  let whole(cell, column) = if column.number { cell.replace(" to ", "\u{a0}to\u{a0}") } else { cell }
  let cells(row) = row.zip(it.columns).map(pair => lines(whole(..pair)))
  set text(font: report.sans, size: 8.5pt)
  set par(leading: 0.45em)
  block(above: 1.4em, below: 0.6em, sticky: true, caption(it))
  table(
    columns: it.columns.map(_ => auto),
    align: side,
    stroke: (_, y) => (bottom: if y == 0 { 0.75pt + ink2 } else { 0.5pt + line-colour }),
    inset: (left: 0pt, right: 10pt, y: 2.6pt),
    table.header(..it.columns.map(one => strong(one.name))),
    ..it.rows.map(cells).flatten(),
  )
  if it.note != "" { block(above: 0.5em, below: 1.4em, small(lines(it.note))) }
}

#let figure-of(it) = block(breakable: false, above: 1.4em, below: 1.4em, {
  if it.file != none { image(it.file, width: 100%, alt: it.caption) } else { missing(it.missing) }
  block(above: 0.5em, caption(it))
  if it.note != "" { block(above: 0.6em, small(lines(it.note))) }
})

#block(below: 1em, text(font: report.sans, size: 21pt, weight: 700, report.title))
#block(below: 2em, text(size: 9.5pt, fill: ink2, report.lines.join(linebreak())))
#if report.contents {
  show outline.entry.where(level: 1): set block(above: 0.75em)
  set text(font: report.sans, size: 9.5pt)
  block(below: 2em, outline(title: none, depth: 2, indent: 1.2em))
}

#for it in report.blocks {
  if it.kind == "heading" { heading(level: it.level, it.words) }
  else if it.kind == "prose" { prose(it.body) }
  else if it.kind == "quote" { quoted(it) }
  else if it.kind == "grid" { grid-of(it) }
  else if it.kind == "figure" { figure-of(it) }
  else { par(missing(it.words)) }
}
