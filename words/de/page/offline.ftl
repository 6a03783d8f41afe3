along-on-this-device = Auf diesem Gerät
along-needs-https = Hier lässt sich nichts mitnehmen: ein Browser verschließt Daten nur über HTTPS oder auf der Maschine selbst. Wer den Server betreibt, kann das einrichten.
along-no-core = Diese Installation wurde ohne den Rechenkern für die Seite gebaut; ohne Server geht nichts. docs/on-site.md sagt, wie er gebaut wird.
along-taken-along = Mitgenommen
along-as-of = Stand { $at }
along-as-of-old = Stand { $at }: älter als ein Tag, bitte aktualisieren
along-leave-behind = Vom Gerät entfernen
along-bring-up-to-date = Alle aktualisieren
along-nothing-taken-yet = Noch nichts mitgenommen. Die Waagen des Tages wählen; Waagenblätter, Verlauf, Geräteprofile, Gewichte, Scheine und Fotos kommen mit.
along-space = { $used } MB sind belegt von { $of } GB, die dieser Browser gibt.
along-persists = Der Browser behält sie.
along-may-be-cleared = Bei voller Platte darf der Browser sie löschen: als App installiert tut er das nicht.
along-nearly-full = Der Platz ist fast belegt. Waagen entfernen, die nicht gebraucht werden, und senden, was noch nicht gesendet ist.
along-what-came-home = Was heimkam
along-take-scales-along = Waagen mitnehmen
along-only-with-the-server = Mitgenommen wird, solange der Server antwortet. Jetzt antwortet er nicht.
along-taking = Nehme mit … { $done } von { $of }
along-take-no-scales = { $no ->
    [one] 1 Waage
   *[other] { $no } Waagen
 } mitnehmen
device-lock-locked = Was auf diesem Gerät liegt, ist verschlossen. Ihr Passwort öffnet es, mit und ohne Netz.
device-lock-what-it-does = Dieses Gerät kann Aufträge mitnehmen und ohne Netz erledigen. Was es mitnimmt, liegt unter Verschluss; Ihr Passwort öffnet es, und damit unterschreiben Sie hier Nachweise.
device-lock-name-of-this-device = Name dieses Geräts, etwa „Tablet 2“
device-lock-your-password = Ihr Passwort
device-lock-this-does-not-open-it = dieses Passwort öffnet es nicht
device-lock-unlock = Öffnen
device-lock-set-up = Dieses Gerät einrichten
device-lock-the-password-was-changed = Passwort inzwischen geändert?
device-lock-forget-says = Es gilt noch das Passwort vom Tag der Einrichtung dieses Geräts. Ohne dieses Passwort ist alles verloren, was hier noch nicht gesendet ist.
device-lock-forget = Alles auf diesem Gerät vergessen
unsent-unwelcome = Dieses Gerät wurde von der Werkstatt gesperrt. Es hat alles vergessen, was es mitgenommen hatte.
unsent-not-sent-yet = Noch nicht gesendet
unsent-no-entries = { $no ->
    [one] 1 Eintrag
   *[other] { $no } Einträge
 }
unsent-sending = Sende { $job }: Auftrag { $at } von { $of } …
unsent-waits-for-the-server = Der Server antwortet nicht. Die Einträge liegen hier und werden gesendet, sobald er antwortet.
unsent-send-now = Jetzt senden
device-list-devices = Geräte, die Aufträge mitnehmen: { $no }
device-list-this = · dieses
device-list-of-person-last-seen = { $person } · zuletzt { $at }
device-list-block = Sperren
came-home-what-this-is = Arbeit ohne Server, wie sie ankam. Jeder Eintrag wurde hier in seiner Reihenfolge noch einmal geprüft.
came-home-nothing-yet = Noch ist nichts heimgekommen.
came-home-at-by-device = { $at } · { $person } · { $device }
came-home-taken = { $taken ->
    [one] 1 Eintrag
   *[other] { $taken } Einträge
 } übernommen.
came-home-known = { $known ->
    [one] 1 war
   *[other] { $known } waren
 } schon hier.
came-home-save-what-was-left = Nicht Übernommenes als Datei sichern
offline-mark-no-server = offline
offline-mark-sending = sende …
offline-mark-no-not-sent = { $no } nicht gesendet
leave-not-all-is-sent = { $no ->
    [one] 1 Eintrag ist
   *[other] { $no } Einträge sind
 } nicht gesendet
leave-what-happens = Sie liegen nur auf diesem Gerät. Sie bleiben hier unter Verschluss und werden gesendet, wenn Sie sich hier wieder anmelden.
leave-stay = Angemeldet bleiben
leave-sign-out-all-the-same = Trotzdem abmelden
offline-this-scale-was-not-taken = diese Waage wurde nicht mitgenommen, und der Server antwortet nicht
offline-your-password-signs-the-record = mit Ihrem Passwort unterschreiben Sie den Nachweis
offline-this-is-not-your-password = dieses Passwort öffnet dieses Gerät nicht; nichts wurde unterschrieben
offline-this-needs-the-server = das braucht den Server, der jetzt nicht antwortet
offline-no-number-yet = noch ohne Nummer · { $mark }
router-came-home = Was heimkam
router-along = Auf diesem Gerät
app-bar-along = Mitnehmen
sign-in-form-the-server-does-not = der Server antwortet nicht, und dieses Passwort öffnet auf diesem Gerät nichts
route-take-them-along = Mitnehmen
update-note-a-newer-version-is-ready = Eine neuere Fassung von Ombret liegt bereit.
update-note-use-it = Jetzt verwenden
update-note-later = Später
device-port-read-here = Das Anzeigegerät wird von diesem Gerät gelesen.
device-port-stop = Nicht mehr lesen
device-port-on-this-devices-cable = Anzeigegerät am Kabel dieses Geräts
device-port-set-up-first = Erst dieses Gerät einrichten: was es liest, liegt hier, bis der Server es hat.
device-port-speed = Baud
device-port-frame = Bits, Parität, Stopp
device-port-choose = Anschluss wählen
device-port-none = kein Anschluss gewählt
device-port-browser-has-none = Dieser Browser öffnet keine Anschlüsse. Chromium, Chrome und Edge auf einem Laptop können es; oder auf diesem Gerät das Programm ombret link starten und dessen Code eingeben.
device-port-link-code = Code von ombret link
device-port-by-link = Über ombret link lesen
device-port-no-link = mit diesem Code antwortet nichts: ombret link auf diesem Gerät starten und den angezeigten Code eingeben
record-offline-what-follows = Noch nicht gesendet: Nummer, PDF und Schein folgen nach der Heimkehr. Zeigen und drucken geht jetzt.
offline-this-device-is-full = dieses Gerät ist voll: nichts wurde gespeichert. Waagen entfernen, die nicht gebraucht werden, oder Platz auf der Platte schaffen
