cause-chart-dots-and-line = Dots: errors as read, in the order of reading. Broken line: what this cause alone would show.
cause-chart-read-and-by-cause = Errors as read, and as { $label } would make them
corner-drawing-front-where-you-stand = front, where you stand
corner-drawing-the-platform-from-above = The platform from above
drift-line-adjusted = , adjusted
drift-line-day-found-found-left-left = { $day }: found { $found }, left { $left } { $unit }
drift-line-error-at-load-unit-over = Error at { $load } { $unit } over { $count } records
drift-line-error-at-load-unit-unit2 = error at { $load } { $unit }, { $unit2 }
error-chart-as-found-says = As found: { $says }
error-chart-as-left-says = As left: { $says }
error-chart-error-unit = error, { $unit }
error-chart-key-as-found = as found
error-chart-key-as-left = as left
error-chart-key-coming-down = decreasing
error-chart-key-tolerance = tolerance
error-chart-load-unit = load, { $unit }
error-chart-tolerance-from-zero-to-max = { $n ->
    [one] Tolerance from zero to { $max } { $unit } with 1 reading
   *[other] Tolerance from zero to { $max } { $unit } with { $n } readings
  }
load-ladder-load-ladder-count-loads-up = Load ladder: { $count } loads up to { $max } { $unit }
load-ladder-load-unit-missing = { $load } { $unit }: missing
month-columns-checks-by-month-count-months = Checks by month, { $count } months
platform-top-the-platform-from-above-with = The platform from above with { $load } { $unit }
rate-bars-found-out-of-tolerance = Found out of tolerance
signal-bar-headroom-percent-headroom-above-max = , { $headroom_percent } % headroom above Max
signal-bar-input = input
signal-bar-low-to-high-mv = { $low } to { $high } mV
signal-bar-signal-of-the-cells-says = Signal of the cells: { $says }
signal-bar-the-indicator-s-input-range = the indicator's input range is not on the sheet
span-curve-mpe = MPE
span-curve-predicted-error-at-max-over = Predicted error at Max over the span weight; at { $weight } { $unit }: { $says }
week-load-overdue = Overdue
week-load-overdue-overdue-then-by-week = { $overdue } overdue, then by week: { $what }
week-load-week-of-name = Week of { $name }
