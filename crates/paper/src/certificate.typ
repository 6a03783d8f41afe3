// A calibration certificate or a work report. Every word and figure comes from data.json; nothing is
// worked out here.
#let d = json("data.json")
#let ink = rgb("#16202a")
#let quiet = rgb("#4d5a66")
#let rule = rgb("#c9cfd4")
#let shade = rgb("#e3eae2")
#let good = rgb("#2c5d3f")
#let bad = rgb("#9c2f1d")
#set document(title: d.title + " " + d.number, author: d.letterhead.name, date: auto, keywords: d.keywords)
#set text(font: ("Atkinson Hyperlegible Next", "Atkinson Hyperlegible Next Ext", "Libertinus Serif"), size: 8.8pt, fill: ink, lang: d.lang, hyphenate: false)
#set par(leading: 0.5em, spacing: 0.7em)
#set page(paper: "a4", margin: (x: 17mm, top: 14mm, bottom: 17mm), background: if d.draft != none { rotate(-32deg, text(size: 58pt, weight: 700, fill: rgb("#16202a18"), d.draft)) },
  footer: context [
    #set text(size: 7.2pt, fill: quiet)
    #line(length: 100%, stroke: 0.4pt + rule)
    #v(-4pt)
    #grid(columns: (1fr, auto), column-gutter: 8mm, [#d.foot], align(right)[#d.number \ #d.page #counter(page).display() #d.of #counter(page).final().first()])
  ])
// Figures do not break, so that none stands without its unit.
#let figure-text(body) = box(text(size: 8.6pt, number-width: "tabular", body))
#show heading.where(level: 1): it => text(size: 19pt, weight: 700, it.body)
#show heading.where(level: 2): it => block(above: 1.1em, below: 0.5em, text(size: 9.6pt, weight: 700, it.body))
#if d.attachment != none { pdf.attach(d.attachment.name, relationship: "source", mime-type: "application/json", description: d.attachment.description) }

#grid(columns: (1fr, auto), column-gutter: 8mm, align: (left + top, right + top),
  [
    #text(size: 11.5pt, weight: 700, d.letterhead.name)
    #for line in d.letterhead.lines [ \ #text(size: 8pt, fill: quiet, line) ]
  ],
  if d.qr { image("qr.svg", width: 19mm, alt: d.address) })
#v(1mm)
#grid(columns: (1fr, auto), align: (left + bottom, right + bottom),
  [= #d.title #text(weight: 400)[#d.number]
   #if d.version != none { text(size: 8.4pt, d.version) }],
  text(size: 12pt, weight: 700, fill: if d.good == true { good } else if d.good == false { bad } else { quiet }, d.verdict))
#v(-0.4mm)
#line(length: 100%, stroke: 1.2pt + ink)
#v(0.6mm)
#if d.replaced != none { block(fill: rgb("#f6e4df"), inset: 5pt, width: 100%, text(weight: 700, d.replaced)) }

#grid(columns: (auto, 1fr, auto, 1fr), column-gutter: (3mm, 6mm, 3mm), row-gutter: 0.62em,
  ..d.facts.map(f => (text(fill: quiet, size: 8pt, f.at(0)), text(f.at(1)))).flatten())

#block(above: 1em, below: 0.9em, text(size: 9.6pt, weight: 700, d.statement))

#let readings(t) = block(breakable: true)[
  == #t.title
  #text(size: 7.6pt, fill: quiet, t.about)
  #table(columns: (1.25fr, 1.1fr, 1fr, 1fr, 1fr, auto), stroke: none, inset: (x: 2.4pt, y: 2.3pt), align: (i, _) => if i == t.head.len() - 1 { left } else { right },
    table.header(..t.head.map(h => text(size: 7.4pt, fill: quiet, h))),
    table.hline(stroke: 0.5pt + ink),
    ..t.rows.map(r => r.cells.enumerate().map(((i, c)) => if i == r.cells.len() - 1 { text(weight: if r.within { 400 } else { 700 }, fill: if r.within { good } else { bad }, size: 8.2pt, c) } else { figure-text(c) })).flatten())
]
#grid(columns: (1fr, 1fr), column-gutter: 7mm, row-gutter: 1mm, ..d.tables.map(readings))

#if d.drawing { block(above: 0.8em, breakable: false)[#image("shade.svg", width: 100%, alt: d.drawing_says) #text(size: 7.4pt, fill: quiet, d.drawing_says)] }

#for s in d.sections {
  block(breakable: true)[
    == #s.title
    #for p in s.lines { par(p) }
    #if s.table != none {
      table(columns: s.table.head.len(), stroke: none, inset: (x: 3pt, y: 2pt), align: left,
        table.header(..s.table.head.map(h => text(size: 7.4pt, fill: quiet, h))),
        table.hline(stroke: 0.5pt + ink),
        ..s.table.rows.flatten().map(c => text(size: 8.2pt, c)))
    }
  ]
}

#block(above: 1.4em, breakable: false, grid(columns: d.signatures.map(_ => 1fr), column-gutter: 10mm,
  ..d.signatures.map(s => [#text(size: 8pt, fill: quiet, s.role) \ #text(weight: 700, size: 10pt, s.name) \ #text(size: 8pt, s.at) #if s.at("drawn", default: false) [#v(-2mm) #image("customer.svg", height: 14mm, alt: s.role + ": " + s.name)] #v(-1mm) #line(length: 100%, stroke: 0.5pt + ink)])))
#text(size: 7.2pt, fill: quiet, d.closing)

#align(center, text(size: 7.4pt, fill: quiet)[— #d.end —])
