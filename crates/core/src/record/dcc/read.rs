//! A digital calibration certificate read back: structure first, then what it says.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use time::Date;

use super::tree::{Element, broken, parse};
use super::units::mass_unit;
use super::{AttachedRecord, Dcc, Equipment, Influence, Responsible, ResultSet, Series};
use crate::job::MEDIA_TYPE;
use crate::quantity::{Decimal, Mass};
use crate::record::dcc::rules;
use crate::refusal::Refusal;

/// Reads a certificate.
///
/// # Errors
/// A [`Refusal`] with what is wrong and at which element; nothing of a broken one is taken.
pub fn read_dcc(text: &str) -> Result<Dcc, Refusal> {
    let root = parse(text)?;
    if root.name != "digitalCalibrationCertificate" {
        return Err(broken(
            &format!("“{}”", root.name.chars().take(40).collect::<String>()),
            text!("dcc-no-certificate"),
        ));
    }
    let version =
        root.attributes.iter().find(|(key, _)| key == "schemaVersion").map_or("", |(_, v)| v.as_str());
    if version.split('.').next() != Some("3") {
        return Err(broken(
            "schemaVersion",
            text!("dcc-other-version", version = version.chars().take(20).collect::<String>()),
        ));
    }
    rules::check(&root, "")?;
    let admin = root.needed("administrativeData")?;
    let core = admin.needed("coreData")?;
    let item = admin.needed("items/item")?;
    let measured = root.needed("measurementResults/measurementResult")?;
    let software = admin.needed("dccSoftware/software")?;
    let statements = admin.child("statements");
    let list = |at: Option<&Element>, name: &str| -> Vec<Element> {
        at.map(|e| e.all(name).cloned().collect()).unwrap_or_default()
    };
    Ok(Dcc {
        number: filled(core, "uniqueIdentifier")?,
        country: filled(core, "countryCodeISO3166_1")?,
        language: filled(core, "mandatoryLangCodeISO639_1")?,
        begun: date(core, "beginPerformanceDate")?,
        ended: date(core, "endPerformanceDate")?,
        software: format!("{} {}", software.needed("name")?.says(), software.needed("release")?.says()),
        item: item.needed("name")?.says(),
        serial: item.needed("identifications/identification/value")?.says(),
        laboratory: admin.needed("calibrationLaboratory/contact/name")?.says(),
        customer: admin.needed("customer/name")?.says(),
        place: admin.down("customer/location/further").map(Element::says).unwrap_or_default(),
        people: list(admin.child("respPersons"), "respPerson")
            .iter()
            .map(person)
            .collect::<Result<_, _>>()?,
        statements: list(statements, "statement")
            .iter()
            .filter_map(|s| s.child("declaration").map(Element::says))
            .collect(),
        conforms: list(statements, "statement")
            .iter()
            .find_map(|s| s.child("conformity").map(|c| c.says() == "pass")),
        methods: list(measured.child("usedMethods"), "usedMethod")
            .iter()
            .filter_map(|m| m.child("name").map(Element::says))
            .collect(),
        equipment: list(measured.child("measuringEquipments"), "measuringEquipment")
            .iter()
            .map(equipment)
            .collect::<Result<_, _>>()?,
        influences: list(measured.child("influenceConditions"), "influenceCondition")
            .iter()
            .map(influence)
            .collect::<Result<_, _>>()?,
        results: list(measured.child("results"), "result").iter().map(result).collect::<Result<_, _>>()?,
        record: root.child("document").map(attached).transpose()?.flatten(),
    })
}

/// The job file inside, where the document inside is one.
fn attached(at: &Element) -> Result<Option<AttachedRecord>, Refusal> {
    let says = |name: &str| at.child(name).map(Element::says).unwrap_or_default();
    if says("mimeType") != MEDIA_TYPE {
        return Ok(None);
    }
    let packed: String = says("dataBase64").split_whitespace().collect();
    let bytes = STANDARD.decode(packed).map_err(|_| broken("document/dataBase64", text!("dcc-no-base64")))?;
    Ok(Some(AttachedRecord { name: says("fileName"), bytes }))
}

fn filled(at: &Element, name: &str) -> Result<String, Refusal> {
    let text = at.needed(name)?.says();
    if text.is_empty() {
        Err(broken(&format!("{}/{name}", at.name), text!("dcc-is-empty")))
    } else {
        Ok(text)
    }
}

fn date(at: &Element, name: &str) -> Result<Date, Refusal> {
    let text = filled(at, name)?;
    Date::parse(&text, &time::macros::format_description!("[year]-[month]-[day]")).map_err(|_| {
        broken(
            &format!("{}/{name}", at.name),
            text!("dcc-no-day", shown = text.chars().take(24).collect::<String>()),
        )
    })
}

fn person(at: &Element) -> Result<Responsible, Refusal> {
    let says = |name: &str| at.child(name).map(Element::says).unwrap_or_default();
    Ok(Responsible {
        name: at.needed("person/name")?.says(),
        role: says("role"),
        main_signer: says("mainSigner") == "true",
    })
}

fn equipment(at: &Element) -> Result<Equipment, Refusal> {
    let ids: Vec<&Element> = at.needed("identifications")?.all("identification").collect();
    let of = |name: &str| {
        ids.iter()
            .find(|i| i.child("name").is_some_and(|n| n.says() == name))
            .and_then(|i| i.child("value"))
            .map(Element::says)
    };
    let first = || ids.first().and_then(|i| i.child("value")).map(Element::says).unwrap_or_default();
    Ok(Equipment {
        name: at.needed("name")?.says(),
        mark: of("mark").unwrap_or_else(first),
        certificate: of("certificate"),
    })
}

fn influence(at: &Element) -> Result<Influence, Refusal> {
    let real = at.needed("data/quantity/real")?;
    Ok(Influence {
        name: at.needed("name")?.says(),
        value: number(&real.needed("value")?.says(), "real/value")?,
        unit: real.needed("unit")?.says(),
    })
}

fn number(text: &str, place: &str) -> Result<Decimal, Refusal> {
    text.parse()
        .map_err(|_| broken(place, text!("dcc-no-number", shown = text.chars().take(24).collect::<String>())))
}

fn result(at: &Element) -> Result<ResultSet, Refusal> {
    let name = at.needed("name")?.says();
    let list = at.needed("data/list")?;
    let series: Vec<Series> = list.all("quantity").map(quantity).collect::<Result<_, _>>()?;
    let length = series.first().map_or(0, |s| s.values.len());
    if let Some(odd) = series.iter().find(|s| s.values.len() != length) {
        return Err(broken(
            &format!("results, {name}, {}", odd.name),
            text!("dcc-other-length", values = odd.values.len(), length),
        ));
    }
    Ok(ResultSet { name, series })
}

fn quantity(at: &Element) -> Result<Series, Refusal> {
    let name = at.needed("name")?.says();
    let list = at.needed("realListXMLList")?;
    let unit_text = list.needed("unitXMLList")?.says();
    let unit = mass_unit(&unit_text).ok_or_else(|| {
        broken(
            &format!("“{name}”"),
            text!("dcc-no-mass-unit", unit = unit_text.chars().take(40).collect::<String>()),
        )
    })?;
    let numbers = |element: &Element| -> Result<Vec<Decimal>, Refusal> {
        element.text.split_whitespace().map(|t| number(t, &element.name)).collect()
    };
    let masses = |values: Vec<Decimal>| values.into_iter().map(|v| Mass::new(v, unit)).collect::<Vec<_>>();
    let values = numbers(list.needed("valueXMLList")?)?;
    let (expanded, k) = match list.down("measurementUncertaintyUnivariateXMLList/expandedMUXMLList") {
        None => (Vec::new(), Vec::new()),
        Some(mu) => {
            let every = |element: &Element| -> Result<Vec<Decimal>, Refusal> {
                let found = numbers(element)?;
                match found.len() {
                    // One figure stands for all.
                    1 => Ok(vec![found[0].clone(); values.len()]),
                    n if n == values.len() => Ok(found),
                    n => Err(broken(
                        &format!("“{name}”, {}", element.name),
                        text!("dcc-figures-for-values", n, values = values.len()),
                    )),
                }
            };
            (every(mu.needed("valueExpandedMUXMLList")?)?, every(mu.needed("coverageFactorXMLList")?)?)
        }
    };
    Ok(Series { name, values: masses(values), expanded: masses(expanded), k })
}
