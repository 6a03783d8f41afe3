//! Pieces of a kit, their certificates, and whether they may be used. Sources: OIML R 111-1:2004;
//! OIML R 76-1:2006, 3.7.1 (errors of weights at most a third of the tolerance).

use serde::{Deserialize, Serialize};
use time::Date;
use utoipa::ToSchema;
use uuid::Uuid;

use super::class::{WeightClass, WeightError, weight_tolerance};
use crate::quantity::{Decimal, Mass, Unit};
use crate::refusal::Refusal;
use crate::wording::Text;

time::serde::format_description!(iso_date, Date, "[year]-[month]-[day]");

/// What a piece is like.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Form {
    /// A block with a handle.
    Block,
    /// Slotted.
    Slotted,
    /// A cylinder with a knob.
    Cylinder,
    /// With a hook or ring.
    Hanging,
    /// On wheels of its own.
    Cart,
    /// Rolled on.
    WheelOn,
}

impl Form {
    /// Every form.
    pub const ALL: [Self; 6] =
        [Self::Block, Self::Slotted, Self::Cylinder, Self::Hanging, Self::Cart, Self::WheelOn];

    /// In words.
    pub fn label(self) -> Text {
        Text::of("form", self.name())
    }

    /// As it is written in a table.
    pub const fn name(self) -> &'static str {
        match self {
            Self::Block => "block",
            Self::Slotted => "slotted",
            Self::Cylinder => "cylinder",
            Self::Hanging => "hanging",
            Self::Cart => "cart",
            Self::WheelOn => "wheel-on",
        }
    }

    /// From its words.
    pub fn of(words: &str) -> Option<Self> {
        let words = words.trim().to_lowercase().replace('_', "-");
        Self::ALL.into_iter().find(|form| form.name() == words)
    }
}

/// What a laboratory said of a piece.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Certificate {
    /// Its number.
    pub number: String,
    /// The laboratory.
    pub laboratory: String,
    /// When it was issued.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub date: Date,
    /// When the piece is due again.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub due: Date,
    /// Conventional mass − nominal; none: by class only.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub error: Option<Mass>,
    /// Expanded uncertainty.
    #[serde(default, rename = "U", skip_serializing_if = "Option::is_none")]
    pub u: Option<Mass>,
    /// Coverage factor.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub k: Option<Decimal>,
}

/// A piece of the kit.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct Piece {
    /// Identity.
    pub id: Uuid,
    /// Serial number or mark.
    pub serial: String,
    /// Nominal mass.
    pub nominal: Mass,
    /// Class; none: by certificate only.
    #[serde(default)]
    pub class: Option<WeightClass>,
    /// Form.
    pub form: Form,
    /// The set that it belongs to.
    #[serde(default)]
    pub set: String,
    /// Where it is kept.
    #[serde(default)]
    pub place: String,
    /// Who has it now.
    #[serde(default)]
    pub holder: String,
    /// Damaged: never offered.
    #[serde(default)]
    pub damaged: bool,
    /// Certificates, the newest last.
    #[serde(default)]
    pub certificates: Vec<Certificate>,
    /// Its class of the workshop's own, in place of a class of R 111-1 or HB 105-1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub own: Option<OwnTolerance>,
    /// Of an object that was weighed: by what.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reference: Option<WeighedBy>,
}

/// The tolerance of a piece in a class of the workshop's own.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct OwnTolerance {
    /// The class.
    pub class: String,
    /// ± of its nominal there.
    pub mpe: Mass,
}

/// A class of the workshop's own: a tolerance for each nominal.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct OwnClass {
    /// Its name.
    pub name: String,
    /// Its table.
    pub rows: Vec<OwnRow>,
}

/// A row of it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct OwnRow {
    /// Nominal.
    pub nominal: Mass,
    /// ± tolerance.
    pub mpe: Mass,
}

impl OwnClass {
    /// Most rows.
    pub const MOST_ROWS: usize = 80;

    /// Checks that the table makes sense.
    ///
    /// # Errors
    /// The first [`Refusal`], at its field.
    pub fn check(&self) -> Result<(), Refusal> {
        if self.name.trim().is_empty() || self.name.chars().count() > 40 {
            return Err(Refusal::from(Refused::NoClassName));
        }
        if WeightClass::of(&self.name).is_some() {
            return Err(Refusal::from(Refused::Taken { name: self.name.clone() }));
        }
        if self.rows.is_empty() || self.rows.len() > Self::MOST_ROWS {
            return Err(Refusal::from(Refused::RowsOutOfRange { most_rows: Self::MOST_ROWS }));
        }
        for (at, row) in self.rows.iter().enumerate() {
            if !row.nominal.value.is_positive() || !row.mpe.value.is_positive() || row.mpe >= row.nominal {
                return Err(Refusal::from(Refused::RowNotPositive { at: at + 1 }));
            }
            if self.rows[..at].iter().any(|other| other.nominal == row.nominal) {
                return Err(Refusal::from(Refused::Twice { at: at + 1, nominal: row.nominal.clone() }));
            }
        }
        Ok(())
    }

    /// The tolerance of a nominal; an error where the table lacks it, never a guess.
    ///
    /// # Errors
    /// A [`Refusal`] at the class.
    pub fn of(&self, nominal: &Mass) -> Result<OwnTolerance, Refusal> {
        let row = self.rows.iter().find(|row| row.nominal == *nominal);
        let refused =
            || Refusal::from(Refused::NotInTable { name: self.name.clone(), nominal: nominal.clone() });
        row.map(|row| OwnTolerance { class: self.name.clone(), mpe: row.mpe.clone() }).ok_or_else(refused)
    }
}

/// The scale that weighed a reference object.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub struct WeighedBy {
    /// Its record, which proved it.
    pub record: String,
    /// Its name.
    pub scale: String,
    /// Which scale that is; none in kits of earlier versions.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub scale_id: Option<Uuid>,
    /// When the object was weighed.
    #[serde(with = "iso_date")]
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Standard uncertainty of the object's mass: that scale's tolerance there / √3.
    pub u: Mass,
}

/// How a piece may be used on a day.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "is", rename_all = "snake_case")]
pub enum Usable {
    /// For everything.
    Yes {
        /// Due within so many days.
        #[schema(required)]
        due_in_days: Option<i64>,
    },
    /// Not for a proof.
    No {
        /// Why not.
        why: Text,
    },
}

/// Days before the due date at which it is warned of.
pub const DUE_WARNING_DAYS: i64 = 45;
/// Lifting a piece from this mass on is not for one person alone.
pub const TWO_PEOPLE_KG: u32 = 25;

impl Piece {
    /// The certificate in force.
    pub fn certificate(&self) -> Option<&Certificate> {
        self.certificates.last()
    }

    /// Whether it may be used for a proof on `day`: not damaged, in date (the due date itself is in
    /// date), within its class.
    pub fn usable(&self, day: Date) -> Usable {
        let no = |why: Text| Usable::No { why };
        if self.damaged {
            return no(text!("word-damaged"));
        }
        if self.reference.is_some() {
            return no(text!("piece-a-reference-object-it-adjusts"));
        }
        let Some(certificate) = self.certificate() else { return no(text!("piece-without-a-certificate")) };
        if day > certificate.due {
            return no(text!("piece-past-due-since-due", due = certificate.due));
        }
        if let Some(why) = self.out_of_class(certificate) {
            return no(why);
        }
        let left = (certificate.due - day).whole_days();
        Usable::Yes { due_in_days: (left <= DUE_WARNING_DAYS).then_some(left) }
    }

    /// Why a certificate puts it outside its class, if it does.
    pub(crate) fn out_of_class(&self, certificate: &Certificate) -> Option<Text> {
        let error = certificate.error.as_ref()?;
        let (name, mpe) = match (&self.own, self.class) {
            (Some(own), _) => (own.class.as_str(), own.mpe.clone()),
            (None, Some(class)) => (class.symbol(), weight_tolerance(&self.nominal, class).ok()?.0),
            (None, None) => return None,
        };
        (error.abs() > mpe).then(|| text!("piece-its-error-of-error-is", error, name))
    }

    /// Change of the conventional mass from the certificate before to the newest.
    pub fn drift(&self) -> Option<Mass> {
        let [.., before, newest] = self.certificates.as_slice() else { return None };
        Some(newest.error.as_ref()?.minus(before.error.as_ref()?))
    }

    /// Standard uncertainty of its mass in mg: U/k by certificate, mpe/√3 by class. Source: EURAMET
    /// cg-18 v4, 7.1.2.
    ///
    /// # Errors
    /// [`WeightError`] where neither is known.
    pub fn standard_uncertainty_mg(&self) -> Result<f64, WeightError> {
        if let Some((u, k)) = self.certificate().and_then(|c| c.u.as_ref().zip(c.k.as_ref())) {
            return Ok(u.value_in(Unit::Mg).to_f64() / k.to_f64());
        }
        if let Some(weighed) = &self.reference {
            return Ok(weighed.u.value_in(Unit::Mg).to_f64());
        }
        let mpe = match &self.own {
            Some(own) => own.mpe.clone(),
            None => {
                weight_tolerance(
                    &self.nominal,
                    self.class
                        .ok_or_else(|| WeightError::NothingKnown { nominal: self.nominal.to_string() })?,
                )?
                .0
            }
        };
        Ok(mpe.value_in(Unit::Mg).to_f64() / 3f64.sqrt())
    }

    /// Checks that a piece makes sense on its own, on `today`.
    ///
    /// # Errors
    /// The first [`Refusal`], at its field.
    pub fn check(&self, today: Date) -> Result<(), Refusal> {
        if self.serial.trim().is_empty() {
            return Err(Refusal::from(Refused::NoSerial));
        }
        for (field, text) in
            [("serial", &self.serial), ("set", &self.set), ("place", &self.place), ("holder", &self.holder)]
        {
            if text.chars().count() > 80 || text.chars().any(char::is_control) {
                return Err(Refusal::from(Refused::BadText { field: field.to_owned() }).at(field));
            }
        }
        if !self.nominal.value.is_positive() {
            return Err(Refusal::from(Refused::NominalNotPositive { nominal: self.nominal.clone() }));
        }
        let kg = self.nominal.kg();
        if kg < Decimal::new(1, 9) || kg > Decimal::new(1_000_000, 0) {
            return Err(Refusal::from(Refused::NoWeight { nominal: self.nominal.clone() }));
        }
        if let Some(class) = self.class {
            weight_tolerance(&self.nominal, class).map_err(|e| Refusal::from(e).at("class"))?;
        }
        if self.class.is_none()
            && self.own.is_none()
            && self.reference.is_none()
            && self.certificate().is_none_or(|c| c.u.is_none())
        {
            return Err(Refusal::from(Refused::NothingKnown));
        }
        let off = |c: &Certificate| {
            // Ten times what the coarsest class allows a piece of a gram: no weight is off by so much.
            let most = self.nominal.times(&Decimal::new(1, 1));
            let beyond = |m: &Option<Mass>| m.as_ref().is_some_and(|m| m.abs() >= most);
            [("error", beyond(&c.error)), ("U", beyond(&c.u))]
                .into_iter()
                .find(|(_, off)| *off)
                .map(|(at, _)| at)
        };
        if let Some(field) = self.certificates.iter().find_map(off) {
            let what = if field == "U" { text!("word-uncertainty") } else { text!("word-error") };
            return Err(
                Refusal::from(Refused::ATenthOfNominal { what, nominal: self.nominal.clone() }).at(field)
            );
        }
        self.certificates.iter().try_for_each(|c| c.check(today))
    }
}

impl Certificate {
    fn check(&self, today: Date) -> Result<(), Refusal> {
        if self.number.trim().is_empty() || self.number.chars().count() > 80 {
            return Err(Refusal::from(Refused::NoNumber));
        }
        if self.date > today {
            return Err(Refusal::from(Refused::DatedAhead));
        }
        if self.due < self.date {
            return Err(Refusal::from(Refused::DueBefore));
        }
        if self.u.is_some() != self.k.is_some() {
            return Err(Refusal::from(Refused::UWithoutK).at(if self.u.is_some() { "k" } else { "U" }));
        }
        if self.u.as_ref().is_some_and(|u| !u.value.is_positive())
            || self.k.as_ref().is_some_and(|k| !k.is_positive())
        {
            return Err(Refusal::from(Refused::UncertaintyNotPositive));
        }
        Ok(())
    }
}

crate::refusals! {
    enum Refused {
        NoClassName = "missing" at "name": text!("piece-a-class-needs-a-name");
        Taken { name: String } = "taken" at "name": text!("piece-name-is-a-class-of", name);
        RowsOutOfRange { most_rows: usize } = "missing" at "rows": text!("piece-a-class-has-1-to", most_rows);
        RowNotPositive { at: usize } = "not_positive" at "rows": text!("piece-row-at-a-nominal-above", at);
        Twice { at: usize, nominal: Mass } = "twice" at "rows":
            text!("piece-row-at-nominal-stands-there", at, nominal);
        NotInTable { name: String, nominal: Mass } = "not_in_table" at "class":
            text!("piece-class-name-has-no-tolerance", name, nominal);
        NoSerial = "missing" at "serial": text!("piece-a-piece-needs-its-serial");
        BadText { field: String } = "bad_text": text!("piece-field-at-most-80-characters", field);
        NominalNotPositive { nominal: Mass } = "not_positive" at "nominal":
            text!("piece-nominal-is-not-above-zero", nominal);
        NoWeight { nominal: Mass } = "out_of_range" at "nominal":
            text!("piece-nominal-a-weight-is-between", nominal);
        NothingKnown = "nothing_known" at "class": text!("piece-a-piece-needs-a-class");
        ATenthOfNominal { what: Text, nominal: Mass } = "out_of_range":
            text!("piece-an-what-of-a-tenth", what, nominal);
        NoNumber = "missing" at "certificate": text!("piece-a-certificate-needs-its-number");
        DatedAhead = "dated_ahead" at "date": text!("piece-this-certificate-is-dated-after");
        DueBefore = "due_before" at "due": text!("piece-a-piece-cannot-be-due");
        UWithoutK = "u_without_k": text!("piece-u-and-k-belong-together");
        UncertaintyNotPositive = "not_positive" at "U": text!("piece-u-and-k-are-above");
    }
}
