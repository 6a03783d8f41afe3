paper-adjusted = Adjusted with { $weight }
paper-adjusted-plain = Adjusted
paper-approved = Approved by
paper-as-found = As found
paper-as-left = As left
paper-attached = The record itself, with its hash chain
paper-awaiting = not approved yet
paper-certificate = Calibration certificate
paper-certificate-number = Certificate
paper-class = Class
paper-conditions = Conditions
paper-customer-signed = For the customer
paper-decimal = .
paper-down = ↓
paper-draft = DRAFT
paper-drawing = Tolerance from zero to { $max } with the errors as found (hollow) and as left (filled)
paper-end = End of the document { $number }
paper-error = Error
paper-files = Photos and files
paper-foot-certificate = The results hold for the scale named, as it stood, on the day named. This certificate may be passed on only whole; parts need the workshop's consent in writing.
paper-foot-report = A record of work done. It is no calibration certificate and may not be passed on as one.
paper-foreign = IMPORTED
paper-foreign-head = Imported record, made elsewhere
paper-four-way = four-way, with a guard on both sides of the limit
paper-guarded = guarded: error and U within the tolerance
paper-in-guard = in guard
paper-in-tolerance = In tolerance
paper-indicator = Indicator
paper-judged-at = Max { $max }, d = { $d }
paper-label-done = Done
paper-label-due = Due
paper-load = Load
paper-mark = Mark
paper-method = Method
paper-method-says = Indications compared with weights put on; OIML R 76-1:2006, A.4
paper-mpe = MPE
paper-name = English
paper-no-uncertainty = No uncertainty was worked out.
paper-nominal = Nominal
paper-not-adjusted = Not adjusted
paper-not-proven = Not proven
paper-not-read = not read
paper-noted = To be noted
paper-of = of
paper-out-of-tolerance = Out of tolerance
paper-outside = OUTSIDE
paper-owner = Customer
paper-pad = pad { $pad }
paper-page = Page
paper-piece-due = due
paper-place = Place of use
paper-place-word = place { $spot }
paper-practice = PRACTICE
paper-range = Max × d
paper-reminder-customer = Good day,
    
    these scales of yours are due:
    
    { $scales }
    
    Please tell us when we may come.
    
    { $workshop }
paper-reminder-subject = Scales due: { $count }
paper-reminder-workshop = These scales are due:
    
    { $scales }
    
    { $workshop }
paper-replaced = This version is no longer in force; { $number } has taken its place.
paper-report = Work report
paper-rule = Decision rule
paper-scale = Scale
paper-seals = Seals
paper-serial = Serial
paper-shown = Indication
paper-signed = Signed by
paper-signed-on = Date of issue
paper-simple = simple: error within the tolerance
paper-statement-in = All { $n } readings as left lie within the tolerance by the decision rule named; the worst error is { $error } at { $load }, { $share } of the tolerance there.
paper-statement-none = No statement of conformity is made: the scale was not proven.
paper-statement-out = { $bad } of { $n } readings as left lie outside the tolerance by the decision rule named; the worst error is { $error } at { $load }, { $share } of the tolerance there.
paper-tests = Further tests
paper-tolerance = Tolerance
paper-traceable = Traceable to the SI through the certificates named.
paper-u = U
paper-uncertainty = Measurement uncertainty
paper-uncertainty-says = U is the expanded uncertainty of the error: the standard uncertainty times k, at most { $k } here, for a coverage probability of about 95 %. Worked out as in EURAMET cg-18, from rounding, repeatability, eccentricity, weights, buoyancy and drift. U holds for the day and the conditions named, not for later use.
paper-verdict = Verdict
paper-version = Version { $version }; takes the place of { $of }: { $why }
paper-weighed = weighed, record { $record }
paper-weights = Weights used
paper-why-foreign = it came as a file from elsewhere
paper-why-no-conditions = no temperature was read
paper-why-no-u = the uncertainty is not known for every reading
paper-why-open = it is not signed
paper-why-report = This is a work report and no calibration certificate:
paper-why-unapproved = it is not approved
paper-why-uncertified = not every load was made of weights with a certificate in force
paper-why-unproved = the scale was not proven
paper-within = within
paper-work = Work
paper-worked-on = Date of work
