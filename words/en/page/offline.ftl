along-on-this-device = On this device
along-needs-https = Nothing can be taken along here: a browser keeps things under lock only over HTTPS, or on the machine itself. Ask whoever runs the server.
along-no-core = This installation was built without the core for the page, so nothing can be done without the server. docs/on-site.md says how it is built.
along-taken-along = Taken along
along-as-of = as of { $at }
along-as-of-old = as of { $at }: older than a day, update it
along-leave-behind = Remove from device
along-bring-up-to-date = Update all
along-nothing-taken-yet = Nothing taken along yet. Choose the scales of the day; their sheets, history, profiles, weights, certificates and photographs come along.
along-space = { $used } MB are used of { $of } GB that this browser gives.
along-persists = The browser keeps it.
along-may-be-cleared = The browser may clear it when the disk is full: install the app, then it does not.
along-nearly-full = Space is nearly used up. Remove scales that you do not need, and send what is not sent.
along-what-came-home = What came home
along-take-scales-along = Take scales along
along-only-with-the-server = Scales are taken along while the server answers. It does not now.
along-taking = Taking along … { $done } of { $of }
along-take-no-scales = Take { $no ->
    [one] 1 scale
   *[other] { $no } scales
 } along
device-lock-locked = What is on this device is locked. Your password opens it, with or without a network.
device-lock-what-it-does = This device can take jobs along and do them without a network. What it takes is kept under lock; your password opens it, and you sign records here with it.
device-lock-name-of-this-device = Name of this device, such as “Tablet 2”
device-lock-your-password = Your password
device-lock-this-does-not-open-it = this password does not open it
device-lock-unlock = Unlock
device-lock-set-up = Set up this device
device-lock-the-password-was-changed = Your password was changed?
device-lock-forget-says = The password of the day when this device was set up still opens it. Without that password everything on it that was not sent is lost for good.
device-lock-forget = Forget everything on this device
unsent-unwelcome = This device was blocked by the workshop. It has forgotten everything that it had taken along.
unsent-not-sent-yet = Not sent yet
unsent-no-entries = { $no ->
    [one] 1 entry
   *[other] { $no } entries
 }
unsent-sending = Sending { $job }: job { $at } of { $of } …
unsent-waits-for-the-server = The server does not answer. They are kept here and sent as soon as it does.
unsent-send-now = Send now
device-list-devices = Devices that take jobs along: { $no }
device-list-this = · this one
device-list-of-person-last-seen = { $person } · last seen { $at }
device-list-block = Block
came-home-what-this-is = Work done away from the server, as it arrived. Every entry was decided again here, in its order.
came-home-nothing-yet = Nothing has come home yet.
came-home-at-by-device = { $at } · { $person } · { $device }
came-home-taken = { $taken ->
    [one] 1 entry
   *[other] { $taken } entries
 } accepted.
came-home-known = { $known ->
    [one] 1 was
   *[other] { $known } were
 } here already.
came-home-save-what-was-left = Save what was left as a file
offline-mark-no-server = offline
offline-mark-sending = sending …
offline-mark-no-not-sent = { $no } not sent
leave-not-all-is-sent = { $no ->
    [one] 1 entry is
   *[other] { $no } entries are
 } not sent
leave-what-happens = They are on this device only. They stay here under lock and are sent when you sign in here again.
leave-stay = Stay signed in
leave-sign-out-all-the-same = Sign out anyway
offline-this-scale-was-not-taken = this scale was not taken along, and the server does not answer
offline-your-password-signs-the-record = your password signs the record
offline-this-is-not-your-password = this is not the password that opens this device; nothing was signed
offline-this-needs-the-server = this needs the server, which does not answer now
offline-no-number-yet = no number yet · { $mark }
router-came-home = What came home
router-along = On this device
app-bar-along = Take along
sign-in-form-the-server-does-not = the server does not answer, and this password opens nothing on this device
route-take-them-along = Take them along
update-note-a-newer-version-is-ready = A newer version of Ombret is ready.
update-note-use-it = Use it now
update-note-later = Later
device-port-read-here = The indicator is read by this device.
device-port-stop = Stop reading
device-port-on-this-devices-cable = Indicator on this device’s cable
device-port-set-up-first = Set this device up first: what it reads is kept here until the server has it.
device-port-speed = Baud
device-port-frame = Bits, parity, stop
device-port-choose = Choose the port
device-port-none = no port was chosen
device-port-browser-has-none = This browser opens no ports. Chromium, Chrome and Edge on a laptop do; or start the program ombret link on this device and type its code.
device-port-link-code = Code of ombret link
device-port-by-link = Read through the link
device-port-no-link = no link answers with this code: start ombret link on this device and type the code it shows
record-offline-what-follows = Not sent yet: number, PDF and certificate follow when it comes home. It can be shown and printed now.
offline-this-device-is-full = this device is full: nothing was stored. Remove scales that you do not need, or free space on the disk
