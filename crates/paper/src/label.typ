// A label for the scale: when it was worked on, when it is due, where the record is.
#let d = json("data.json")
#set document(title: d.title, date: auto)
#set page(width: 62mm, height: 29mm, margin: 2mm)
#set text(font: ("Atkinson Hyperlegible Next", "Atkinson Hyperlegible Next Ext", "Libertinus Serif"), size: 6.6pt, lang: d.lang, hyphenate: false, fill: black)
#set par(leading: 0.38em)
#grid(columns: (1fr, 20mm), column-gutter: 1.5mm,
  [
    #text(weight: 700, size: 7.4pt, d.workshop) \
    #d.scale \
    #v(0.4mm)
    #grid(columns: (auto, 1fr), column-gutter: 1.5mm, row-gutter: 1mm, ..d.rows.map(r => (text(size: 6pt, r.at(0)), text(weight: 700, size: 7.6pt, r.at(1)))).flatten())
  ],
  align(right, [#if d.qr { image("qr.svg", width: 19mm, alt: d.number) } #v(-1.5mm) #text(weight: 700, d.number)]))
