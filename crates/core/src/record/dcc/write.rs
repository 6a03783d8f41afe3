//! A record as a digital calibration certificate.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use quick_xml::Writer;
use quick_xml::events::{BytesDecl, BytesEnd, BytesStart, BytesText, Event};
use time::Date;

use super::units::{CELSIUS, HECTOPASCAL, PERCENT, told};
use super::{AttachedRecord, DCC, Dcc, Equipment, Influence, Responsible, ResultSet, SCHEMA, SI, Series};
use crate::assessment::{Assessment, ReadingView};
use crate::job::MEDIA_TYPE;
use crate::journal::{JobState, Outcome, Purpose, UsedPiece};
use crate::quantity::{Decimal, Mass, parse_mass};
use crate::record::{Lack, Letterhead, RecordTerms, why_report};
use crate::refusal::Refusal;

/// What is known of a record beside its journal.
#[derive(Clone, Debug)]
pub struct Around<'a> {
    /// Its number.
    pub number: &'a str,
    /// The program.
    pub program: &'a str,
    /// What it needs to be a certificate of this workshop.
    pub terms: RecordTerms,
}

/// What a record says as a certificate.
///
/// # Errors
/// A [`Refusal`] where the record is no calibration certificate, or the workshop's country is not known.
pub fn dcc_of(
    state: &JobState,
    assessment: &Assessment,
    letterhead: &Letterhead,
    around: &Around,
) -> Result<Dcc, Refusal> {
    let words = letterhead.language.words();
    let lacks = why_report(state, assessment, around.terms);
    if state.sheet.practice {
        return Err(Refusal::from(Refused::ALesson));
    }
    if !lacks.is_empty() {
        let why: Vec<String> = lacks.iter().map(|l: &Lack| words.get(l.key())).collect();
        return Err(Refusal::from(Refused::NoCalibrationCertificate { why: why.join("; ") }));
    }
    if letterhead.country.is_empty() {
        return Err(Refusal::from(Refused::NoCountry));
    }
    let mut people = vec![Responsible {
        name: assessment.close.signed.clone().unwrap_or_default(),
        role: "technician".into(),
        main_signer: true,
    }];
    people.extend(assessment.review.approved.iter().map(|a| Responsible {
        name: a.by.clone(),
        role: "reviewer".into(),
        main_signer: false,
    }));
    let statements = vec![
        words.say(&assessment.outcome_says),
        format!("{}; {}", words.say(&assessment.tolerance.label), words.say(&assessment.decision.label)),
        words.get("traceable"),
        words.get("foot_certificate"),
    ];
    let day = |at: time::OffsetDateTime| at.date();
    Ok(Dcc {
        number: around.number.to_owned(),
        country: letterhead.country.clone(),
        language: letterhead.language.tag().into(),
        begun: day(assessment.started_at),
        ended: assessment.close.signed_at.map_or_else(|| day(assessment.started_at), day),
        software: around.program.to_owned(),
        item: state.sheet.name.clone(),
        serial: or_dash(&state.sheet.serial),
        laboratory: letterhead.name.clone(),
        customer: or_dash(&state.sheet.owner),
        place: or_dash(&state.sheet.place),
        people,
        statements,
        conforms: match assessment.outcome {
            Outcome::InTolerance => Some(true),
            Outcome::OutOfTolerance => Some(false),
            Outcome::NotProven => None,
        },
        methods: vec![
            words.get("method_says"),
            words.fill(
                "uncertainty_says",
                &[("k", &assessment.largest_u.as_ref().map_or_else(String::new, |u| format!("{:.2}", u.k)))],
            ),
        ],
        equipment: assessment.weights_used.iter().map(equipment).collect(),
        influences: influences(state),
        results: [("as found", &assessment.as_found.readings), ("as left", &assessment.proof.readings)]
            .into_iter()
            .filter_map(|(name, readings)| results(name, readings))
            .collect(),
        record: None,
    })
}

fn or_dash(text: &str) -> String {
    if text.trim().is_empty() { "–".into() } else { text.to_owned() }
}

fn equipment(piece: &UsedPiece) -> Equipment {
    Equipment {
        name: piece.nominal.to_string(),
        mark: or_dash(&piece.serial),
        certificate: piece.certificate.clone(),
    }
}

fn influences(state: &JobState) -> Vec<Influence> {
    let one = |name: &str, value: Option<&Decimal>, unit: &str| {
        value.map(|v| Influence { name: name.into(), value: v.clone(), unit: unit.into() })
    };
    state
        .conditions
        .iter()
        .flat_map(|c| {
            [
                one("temperature", c.temperature.as_ref(), CELSIUS),
                one("relative humidity", c.humidity.as_ref(), PERCENT),
                one("pressure", c.pressure.as_ref(), HECTOPASCAL),
            ]
        })
        .flatten()
        .collect()
}

fn results(name: &str, readings: &[ReadingView]) -> Option<ResultSet> {
    let readings: Vec<&ReadingView> =
        readings.iter().filter(|r| r.counts && r.purpose == Purpose::Load).collect();
    let unit = readings.first()?.error.unit;
    let masses = |of: &dyn Fn(&ReadingView) -> Mass| -> Vec<Mass> {
        readings.iter().map(|r| told(&of(r)).0).collect()
    };
    let plain = |name: &str, values: Vec<Mass>| Series {
        name: name.into(),
        values,
        expanded: Vec::new(),
        k: Vec::new(),
    };
    let read = |text: &str| parse_mass(text, unit, "U").ok();
    let expanded: Option<Vec<Mass>> =
        readings.iter().map(|r| read(&r.budget.as_ref()?.expanded_text).map(|u| told(&u).0)).collect();
    let factor = |r: &&ReadingView| r.budget.as_ref().and_then(|b| format!("{:.2}", b.k).parse().ok());
    let k: Option<Vec<Decimal>> = readings.iter().map(factor).collect();
    // Either every value has its uncertainty or the list has none: the format knows no gaps.
    let (expanded, k) = expanded.zip(k).unwrap_or_default();
    let error =
        |r: &ReadingView| r.corrected_text.as_deref().and_then(read).unwrap_or_else(|| r.error.clone());
    Some(ResultSet {
        name: name.into(),
        series: vec![
            plain("load", masses(&|r| r.load.to(unit))),
            plain(
                "indication",
                masses(&|r| read(&r.shown_text).unwrap_or_else(|| r.load.to(unit).plus(&r.error))),
            ),
            Series { name: "error of indication".into(), values: masses(&error), expanded, k },
        ],
    })
}

/// Writes it.
///
/// # Errors
/// A [`Refusal`] where a text holds what XML cannot.
pub fn write_dcc(dcc: &Dcc) -> Result<String, Refusal> {
    let mut out = Out { writer: Writer::new_with_indent(Vec::new(), b' ', 1) };
    out.event(Event::Decl(BytesDecl::new("1.0", Some("UTF-8"), None)))?;
    let location = format!("{DCC} {DCC}/v{SCHEMA}/dcc.xsd");
    let root = [
        ("xmlns:dcc", DCC),
        ("xmlns:si", SI),
        ("xmlns:xsi", "http://www.w3.org/2001/XMLSchema-instance"),
        ("xsi:schemaLocation", &location),
        ("schemaVersion", SCHEMA),
    ];
    out.within_of("dcc:digitalCalibrationCertificate", &root, |out| {
        out.within("dcc:administrativeData", |out| administrative(out, dcc))?;
        out.within("dcc:measurementResults", |out| {
            out.within("dcc:measurementResult", |out| measured(out, dcc))
        })?;
        dcc.record.as_ref().map_or(Ok(()), |record| out.within("dcc:document", |out| attached(out, record)))
    })?;
    String::from_utf8(out.writer.into_inner())
        .map_err(|e| Refusal::from(Refused::NotText { why: e.to_string() }))
}

struct Out {
    writer: Writer<Vec<u8>>,
}

type Done = Result<(), Refusal>;

impl Out {
    fn event(&mut self, event: Event) -> Done {
        self.writer.write_event(event).map_err(|e| Refusal::from(Refused::NotWritten { why: e.to_string() }))
    }

    fn within(&mut self, name: &str, inside: impl FnOnce(&mut Self) -> Done) -> Done {
        self.within_of(name, &[], inside)
    }

    fn within_of(
        &mut self,
        name: &str,
        attributes: &[(&str, &str)],
        inside: impl FnOnce(&mut Self) -> Done,
    ) -> Done {
        let mut start = BytesStart::new(name);
        for (key, value) in attributes {
            start.push_attribute((*key, *value));
        }
        self.event(Event::Start(start))?;
        inside(self)?;
        self.event(Event::End(BytesEnd::new(name)))
    }

    /// An element with a text in it; what XML has no sign for is left out.
    fn text(&mut self, name: &str, text: &str) -> Done {
        let clean: String = text.chars().filter(|c| !c.is_control() || *c == '\n').collect();
        self.within(name, |out| out.event(Event::Text(BytesText::new(&clean))))
    }

    /// A name or a description: the language is that of the certificate.
    fn content(&mut self, name: &str, text: &str) -> Done {
        self.within(name, |out| out.text("dcc:content", text))
    }

    fn identification(&mut self, issuer: &str, value: &str, name: &str) -> Done {
        self.within("dcc:identification", |out| {
            out.text("dcc:issuer", issuer)?;
            out.text("dcc:value", value)?;
            out.content("dcc:name", name)
        })
    }
}

fn administrative(out: &mut Out, dcc: &Dcc) -> Done {
    let (name, release) = dcc.software.rsplit_once([' ', '/']).unwrap_or((&dcc.software, "0"));
    out.within("dcc:dccSoftware", |out| {
        out.within("dcc:software", |out| {
            out.content("dcc:name", name)?;
            out.text("dcc:release", release)
        })
    })?;
    out.within("dcc:coreData", |out| {
        out.text("dcc:countryCodeISO3166_1", &dcc.country)?;
        out.text("dcc:usedLangCodeISO639_1", &dcc.language)?;
        out.text("dcc:mandatoryLangCodeISO639_1", &dcc.language)?;
        out.text("dcc:uniqueIdentifier", &dcc.number)?;
        out.text("dcc:beginPerformanceDate", &day(dcc.begun))?;
        out.text("dcc:endPerformanceDate", &day(dcc.ended))?;
        out.text("dcc:performanceLocation", "customer")
    })?;
    out.within("dcc:items", |out| {
        out.within("dcc:item", |out| {
            out.content("dcc:name", &dcc.item)?;
            out.within("dcc:identifications", |out| out.identification("manufacturer", &dcc.serial, "serial"))
        })
    })?;
    out.within("dcc:calibrationLaboratory", |out| {
        out.within("dcc:contact", |out| {
            contact(out, &dcc.laboratory, |out| out.text("dcc:countryCode", &dcc.country))
        })
    })?;
    out.within("dcc:respPersons", |out| {
        dcc.people.iter().try_for_each(|p| {
            out.within("dcc:respPerson", |out| {
                out.within("dcc:person", |out| out.content("dcc:name", &p.name))?;
                out.text("dcc:role", &p.role)?;
                out.text("dcc:mainSigner", if p.main_signer { "true" } else { "false" })
            })
        })
    })?;
    out.within("dcc:customer", |out| {
        contact(out, &dcc.customer, |out| out.content("dcc:further", &dcc.place))
    })?;
    out.within("dcc:statements", |out| {
        dcc.statements.iter().enumerate().try_for_each(|(index, text)| {
            out.within("dcc:statement", |out| {
                out.content("dcc:declaration", text)?;
                // The first is the statement of conformity.
                match (index, dcc.conforms) {
                    (0, Some(conforms)) => out.text("dcc:conformity", if conforms { "pass" } else { "fail" }),
                    _ => Ok(()),
                }
            })
        })
    })
}

/// The signed record itself, so that the certificate carries what shows whether it is genuine.
fn attached(out: &mut Out, record: &AttachedRecord) -> Done {
    out.content("dcc:name", "signed record")?;
    out.text("dcc:fileName", &record.name)?;
    out.text("dcc:mimeType", MEDIA_TYPE)?;
    out.text("dcc:dataBase64", &STANDARD.encode(&record.bytes))
}

fn contact(out: &mut Out, name: &str, where_it_is: impl FnOnce(&mut Out) -> Done) -> Done {
    out.content("dcc:name", name)?;
    out.within("dcc:location", where_it_is)
}

fn measured(out: &mut Out, dcc: &Dcc) -> Done {
    out.content("dcc:name", "Errors of indication")?;
    out.within("dcc:usedMethods", |out| {
        dcc.methods.iter().try_for_each(|m| out.within("dcc:usedMethod", |out| out.content("dcc:name", m)))
    })?;
    if !dcc.equipment.is_empty() {
        out.within("dcc:measuringEquipments", |out| {
            dcc.equipment.iter().try_for_each(|e| {
                out.within("dcc:measuringEquipment", |out| {
                    out.content("dcc:name", &e.name)?;
                    out.within("dcc:identifications", |out| {
                        out.identification("calibrationLaboratory", &e.mark, "mark")?;
                        e.certificate
                            .as_ref()
                            .map_or(Ok(()), |c| out.identification("calibrationLaboratory", c, "certificate"))
                    })
                })
            })
        })?;
    }
    if !dcc.influences.is_empty() {
        out.within("dcc:influenceConditions", |out| {
            dcc.influences.iter().try_for_each(|i| {
                out.within("dcc:influenceCondition", |out| {
                    out.content("dcc:name", &i.name)?;
                    out.within("dcc:data", |out| {
                        out.within("dcc:quantity", |out| {
                            out.content("dcc:name", &i.name)?;
                            out.within("si:real", |out| {
                                out.text("si:value", &i.value.to_string())?;
                                out.text("si:unit", &i.unit)
                            })
                        })
                    })
                })
            })
        })?;
    }
    out.within("dcc:results", |out| {
        dcc.results.iter().try_for_each(|r| {
            out.within("dcc:result", |out| {
                out.content("dcc:name", &r.name)?;
                out.within("dcc:data", |out| {
                    out.within("dcc:list", |out| r.series.iter().try_for_each(|s| series(out, s)))
                })
            })
        })
    })
}

fn series(out: &mut Out, series: &Series) -> Done {
    let list = |of: &mut dyn Iterator<Item = String>| of.collect::<Vec<_>>().join(" ");
    let unit = series.values.first().map_or("\\kilogram", |m| told(m).1);
    out.within("dcc:quantity", |out| {
        out.content("dcc:name", &series.name)?;
        out.within("si:realListXMLList", |out| {
            out.text("si:valueXMLList", &list(&mut series.values.iter().map(|m| m.value.to_string())))?;
            out.text("si:unitXMLList", unit)?;
            if series.expanded.is_empty() {
                return Ok(());
            }
            out.within("si:measurementUncertaintyUnivariateXMLList", |out| {
                out.within("si:expandedMUXMLList", |out| {
                    out.text(
                        "si:valueExpandedMUXMLList",
                        &list(&mut series.expanded.iter().map(|m| m.value.to_string())),
                    )?;
                    out.text(
                        "si:coverageFactorXMLList",
                        &list(&mut series.k.iter().map(ToString::to_string)),
                    )?;
                    out.text("si:coverageProbabilityXMLList", "0.95")
                })
            })
        })
    })
}

fn day(date: Date) -> String {
    date.to_string()
}

crate::refusals! {
    enum Refused {
        ALesson = "no_certificate": text!("dcc-a-lesson");
        NoCalibrationCertificate { why: String } = "no_certificate":
            text!("dcc-no-calibration-certificate", why),
            then text!("dcc-work-report");
        NoCountry = "no_country" at "country": text!("dcc-no-country"), then text!("dcc-enter-country");
        NotText { why: String } = "not_text": text!("dcc-not-written", why);
        NotWritten { why: String } = "not_written": text!("dcc-not-written", why);
    }
}
