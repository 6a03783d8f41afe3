//! What may stand where: for each element its children in their order, with how many of each. Only what
//! this program writes and reads; elements that the schema has beside them may stand where it says
//! `ANY`. Source: DCC schema 3.2.1; D-SI 2.2.1.

use super::tree::{Element, broken};
use crate::refusal::Refusal;

/// How many: once, at most once, once or more, any number.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Many {
    Once,
    Perhaps,
    Some,
    Any,
}
use Many::{Any, Once, Perhaps, Some as More};

/// Parent and its children in order.
type Rule = (&'static str, &'static [(&'static str, Many)]);

const RULES: &[Rule] = &[
    (
        "digitalCalibrationCertificate",
        &[
            ("administrativeData", Once),
            ("measurementResults", Perhaps),
            ("comment", Perhaps),
            ("document", Perhaps),
            ("Signature", Any),
        ],
    ),
    (
        "administrativeData",
        &[
            ("dccSoftware", Once),
            ("refTypeDefinitions", Perhaps),
            ("coreData", Once),
            ("items", Once),
            ("calibrationLaboratory", Once),
            ("respPersons", Once),
            ("customer", Once),
            ("statements", Perhaps),
        ],
    ),
    (
        "document",
        &[
            ("name", Perhaps),
            ("description", Perhaps),
            ("fileName", Once),
            ("mimeType", Once),
            ("dataBase64", Once),
        ],
    ),
    ("dccSoftware", &[("software", More)]),
    (
        "software",
        &[("name", Once), ("release", Once), ("type", Perhaps), ("description", Perhaps), ("file", Any)],
    ),
    (
        "coreData",
        &[
            ("countryCodeISO3166_1", Once),
            ("usedLangCodeISO639_1", More),
            ("mandatoryLangCodeISO639_1", More),
            ("uniqueIdentifier", Once),
            ("identifications", Perhaps),
            ("receiptDate", Perhaps),
            ("beginPerformanceDate", Once),
            ("endPerformanceDate", Once),
            ("performanceLocation", Once),
            ("issueDate", Perhaps),
            ("reportAmendedSubstituted", Perhaps),
            ("previousReport", Perhaps),
        ],
    ),
    (
        "items",
        &[
            ("name", Perhaps),
            ("equipmentClass", Any),
            ("description", Perhaps),
            ("owner", Perhaps),
            ("identifications", Perhaps),
            ("item", More),
        ],
    ),
    (
        "item",
        &[
            ("name", Once),
            ("equipmentClass", Any),
            ("description", Perhaps),
            ("installedSoftwares", Perhaps),
            ("manufacturer", Perhaps),
            ("model", Perhaps),
            ("identifications", Once),
            ("subItems", Perhaps),
            ("itemQuantities", Perhaps),
        ],
    ),
    ("identifications", &[("name", Perhaps), ("identification", More)]),
    ("identification", &[("issuer", Once), ("value", Once), ("name", Perhaps), ("description", Perhaps)]),
    (
        "calibrationLaboratory",
        &[
            ("calibrationLaboratoryCode", Perhaps),
            ("contact", Once),
            ("cryptElectronicSeal", Perhaps),
            ("cryptElectronicSignature", Perhaps),
            ("cryptElectronicTimeStamp", Perhaps),
        ],
    ),
    ("respPersons", &[("respPerson", More)]),
    (
        "respPerson",
        &[
            ("person", Once),
            ("description", Perhaps),
            ("role", Perhaps),
            ("mainSigner", Perhaps),
            ("cryptElectronicSeal", Perhaps),
            ("cryptElectronicSignature", Perhaps),
            ("cryptElectronicTimeStamp", Perhaps),
        ],
    ),
    ("statements", &[("statement", More)]),
    ("measurementResults", &[("measurementResult", More)]),
    (
        "measurementResult",
        &[
            ("name", Once),
            ("description", Perhaps),
            ("usedMethods", Perhaps),
            ("usedSoftware", Perhaps),
            ("measuringEquipments", Perhaps),
            ("influenceConditions", Perhaps),
            ("results", Once),
            ("measurementMetaData", Perhaps),
        ],
    ),
    ("usedMethods", &[("usedMethod", More)]),
    ("measuringEquipments", &[("name", Perhaps), ("measuringEquipment", More)]),
    ("influenceConditions", &[("influenceCondition", More)]),
    (
        "influenceCondition",
        &[
            ("name", Once),
            ("description", Perhaps),
            ("status", Perhaps),
            ("certificate", Perhaps),
            ("data", Once),
        ],
    ),
    ("results", &[("result", More)]),
    ("result", &[("name", Once), ("description", Perhaps), ("data", Once)]),
    (
        "realListXMLList",
        &[
            ("labelXMLList", Perhaps),
            ("quantityTypeQUDTXMLList", Perhaps),
            ("valueXMLList", Once),
            ("unitXMLList", Once),
            ("dateTimeXMLList", Perhaps),
            ("measurementUncertaintyUnivariateXMLList", Perhaps),
        ],
    ),
    (
        "expandedMUXMLList",
        &[
            ("valueExpandedMUXMLList", Once),
            ("coverageFactorXMLList", Once),
            ("coverageProbabilityXMLList", Once),
            ("distributionXMLList", Perhaps),
        ],
    ),
    (
        "real",
        &[
            ("label", Perhaps),
            ("quantityTypeQUDT", Perhaps),
            ("value", Once),
            ("unit", Once),
            ("significantDigit", Perhaps),
            ("dateTime", Perhaps),
            ("measurementUncertaintyUnivariate", Perhaps),
        ],
    ),
];

/// Checks order and number of children, all the way down.
///
/// # Errors
/// A [`Refusal`] that names the first element that is missing, too many, or out of its order.
pub fn check(element: &Element, path: &str) -> Result<(), Refusal> {
    let here = format!("{path}/{}", element.name);
    if let Some((_, rule)) = RULES.iter().find(|(name, _)| *name == element.name) {
        let mut place = 0;
        for child in &element.children {
            let found = rule
                .iter()
                .position(|(name, _)| *name == child.name)
                .ok_or_else(|| broken(&format!("{here}/{}", child.name), text!("dcc-not-there")))?;
            if found < place {
                return Err(broken(&format!("{here}/{}", child.name), text!("dcc-out-of-order")));
            }
            place = found;
        }
        for (name, many) in *rule {
            let count = element.all(name).count();
            match many {
                Once | More if count == 0 => {
                    return Err(broken(&format!("{here}/{name}"), text!("dcc-is-missing")));
                }
                Once | Perhaps if count > 1 => {
                    return Err(broken(&format!("{here}/{name}"), text!("dcc-more-than-once")));
                }
                _ => {}
            }
        }
    }
    element.children.iter().try_for_each(|child| check(child, &here))
}
