cause-chart-dots-and-line = Punkte: Abweichungen wie abgelesen, in der Reihenfolge der Ablesung. Gestrichelt: was diese Ursache allein zeigen würde.
cause-chart-read-and-by-cause = Abweichungen wie abgelesen und wie sie so entstünden: { $label }
corner-drawing-front-where-you-stand = vorn, wo Sie stehen
corner-drawing-the-platform-from-above = Die Plattform von oben
drift-line-adjusted = , justiert
drift-line-day-found-found-left-left = { $day }: vorgefunden { $found }, hinterlassen { $left } { $unit }
drift-line-error-at-load-unit-over = Fehler bei { $load } { $unit } über { $count } Nachweise
drift-line-error-at-load-unit-unit2 = Fehler bei { $load } { $unit }, { $unit2 }
error-chart-as-found-says = Vorgefunden: { $says }
error-chart-as-left-says = Hinterlassen: { $says }
error-chart-error-unit = Fehler, { $unit }
error-chart-key-as-found = vorgefunden
error-chart-key-as-left = hinterlassen
error-chart-key-coming-down = abnehmend
error-chart-key-tolerance = Fehlergrenze
error-chart-load-unit = Last, { $unit }
error-chart-tolerance-from-zero-to-max = { $n ->
    [one] Fehlergrenze von null bis { $max } { $unit } mit 1 Messwert
   *[other] Fehlergrenze von null bis { $max } { $unit } mit { $n } Messwerten
  }
load-ladder-load-ladder-count-loads-up = Lastenleiter: { $count } Lasten bis { $max } { $unit }
load-ladder-load-unit-missing = { $load } { $unit }: fehlt
month-columns-checks-by-month-count-months = Prüfungen nach Monat, { $count } Monate
platform-top-the-platform-from-above-with = Die Plattform von oben mit { $load } { $unit }
rate-bars-found-out-of-tolerance = Außerhalb der Fehlergrenze vorgefunden
signal-bar-headroom-percent-headroom-above-max = , { $headroom_percent } % Reserve über Max
signal-bar-input = Eingang
signal-bar-low-to-high-mv = { $low } bis { $high } mV
signal-bar-signal-of-the-cells-says = Signal der Zellen: { $says }
signal-bar-the-indicator-s-input-range = der Eingangsbereich des Anzeigegeräts steht nicht auf dem Datenblatt
span-curve-mpe = MPE
span-curve-predicted-error-at-max-over = Erwarteter Fehler bei Max über dem Spanngewicht; bei { $weight } { $unit }: { $says }
week-load-overdue = Überfällig
week-load-overdue-overdue-then-by-week = { $overdue } überfällig, dann nach Woche: { $what }
week-load-week-of-name = Woche ab { $name }
