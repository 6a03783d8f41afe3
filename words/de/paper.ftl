paper-adjusted = Justiert mit { $weight }
paper-adjusted-plain = Justiert
paper-approved = Freigegeben von
paper-as-found = Vorgefunden
paper-as-left = Hinterlassen
paper-attached = Der Datensatz selbst mit seiner Hashkette
paper-awaiting = noch nicht freigegeben
paper-certificate = Kalibrierschein
paper-certificate-number = Schein
paper-class = Klasse
paper-conditions = Umgebung
paper-customer-signed = Für den Kunden
paper-decimal = ,
paper-down = ↓
paper-draft = ENTWURF
paper-drawing = Toleranz von null bis { $max } mit den Abweichungen vorgefunden (hohl) und hinterlassen (gefüllt)
paper-end = Ende des Dokuments { $number }
paper-error = Abweichung
paper-files = Fotos und Dateien
paper-foot-certificate = Die Ergebnisse gelten für die genannte Waage, wie sie stand, am genannten Tag. Dieser Schein darf nur ganz weitergegeben werden; Auszüge bedürfen der schriftlichen Zustimmung der Werkstatt.
paper-foot-report = Ein Bericht über getane Arbeit. Er ist kein Kalibrierschein und darf nicht als solcher weitergegeben werden.
paper-foreign = IMPORTIERT
paper-foreign-head = Importierter Nachweis, anderswo erstellt
paper-four-way = vierstufig, mit Schutzabstand auf beiden Seiten der Grenze
paper-guarded = mit Schutzabstand: Abweichung und U innerhalb der Toleranz
paper-in-guard = im Schutzabstand
paper-in-tolerance = Innerhalb der Toleranz
paper-indicator = Anzeigegerät
paper-judged-at = Max { $max }, d = { $d }
paper-label-done = Geprüft
paper-label-due = Fällig
paper-load = Last
paper-mark = Zeichen
paper-method = Verfahren
paper-method-says = Vergleich der Anzeige mit aufgelegten Gewichten; OIML R 76-1:2006, A.4
paper-mpe = Grenze
paper-name = Deutsch
paper-no-uncertainty = Eine Unsicherheit wurde nicht ermittelt.
paper-nominal = Nennwert
paper-not-adjusted = Nicht justiert
paper-not-proven = Nicht geprüft
paper-not-read = nicht gemessen
paper-noted = Zu beachten
paper-of = von
paper-out-of-tolerance = Außerhalb der Toleranz
paper-outside = AUSSERHALB
paper-owner = Auftraggeber
paper-pad = Platte { $pad }
paper-page = Seite
paper-piece-due = fällig
paper-place = Aufstellungsort
paper-place-word = Platz { $spot }
paper-practice = ÜBUNG
paper-range = Max × d
paper-reminder-customer = Guten Tag,
    
    diese Waagen bei Ihnen sind fällig:
    
    { $scales }
    
    Bitte nennen Sie uns einen Termin.
    
    { $workshop }
paper-reminder-subject = Fällige Waagen: { $count }
paper-reminder-workshop = Diese Waagen sind fällig:
    
    { $scales }
    
    { $workshop }
paper-replaced = Diese Fassung gilt nicht mehr; an ihre Stelle ist { $number } getreten.
paper-report = Arbeitsbericht
paper-rule = Entscheidungsregel
paper-scale = Waage
paper-seals = Siegel
paper-serial = Seriennummer
paper-shown = Anzeige
paper-signed = Unterschrieben von
paper-signed-on = Ausgestellt am
paper-simple = einfach: Abweichung innerhalb der Toleranz
paper-statement-in = Alle { $n } Ablesungen nach der Arbeit liegen nach der genannten Entscheidungsregel innerhalb der Toleranz; die im Verhältnis zur Toleranz größte Abweichung ist { $error } bei { $load }, { $share } der Toleranz dort.
paper-statement-none = Eine Konformitätsaussage wird nicht gemacht: Die Waage wurde nicht geprüft.
paper-statement-out = { $bad } von { $n } Ablesungen nach der Arbeit liegen nach der genannten Entscheidungsregel außerhalb der Toleranz; die im Verhältnis zur Toleranz größte Abweichung ist { $error } bei { $load }, { $share } der Toleranz dort.
paper-tests = Weitere Prüfungen
paper-tolerance = Toleranz
paper-traceable = Über die genannten Scheine auf das SI rückgeführt.
paper-u = U
paper-uncertainty = Messunsicherheit
paper-uncertainty-says = U ist die erweiterte Unsicherheit der Abweichung: die Standardunsicherheit mal k, hier höchstens { $k }, für eine Überdeckung von etwa 95 %. Ermittelt nach EURAMET cg-18 aus Rundung, Wiederholbarkeit, Außermittigkeit, Gewichten, Auftrieb und Drift. U gilt für den genannten Tag und die genannte Umgebung, nicht für den späteren Gebrauch.
paper-verdict = Urteil
paper-version = Fassung { $version }; ersetzt { $of }: { $why }
paper-weighed = gewogen, Bericht { $record }
paper-weights = Verwendete Gewichte
paper-why-foreign = er kam als Datei von anderswo
paper-why-no-conditions = die Temperatur wurde nicht gemessen
paper-why-no-u = nicht zu jeder Ablesung ist die Unsicherheit bekannt
paper-why-open = er ist nicht unterschrieben
paper-why-report = Dies ist ein Arbeitsbericht und kein Kalibrierschein:
paper-why-unapproved = er ist nicht freigegeben
paper-why-uncertified = nicht jede Last bestand aus Gewichten mit gültigem Schein
paper-why-unproved = die Waage wurde nicht geprüft
paper-within = innerhalb
paper-work = Arbeit
paper-worked-on = Tag der Arbeit
