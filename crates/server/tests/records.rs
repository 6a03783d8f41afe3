//! Records that stand: signed, sent back, approved, amended; the paper and the certificate of each.

use crate::house::{House, Reply, read_draft};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};
use sqlx::PgPool;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

/// A house with a technician and a reviewer signed in, in which records are approved.
struct Desk {
    house: House,
    ebba: String,
    maren: String,
    signe: String,
}

impl Desk {
    async fn new(pool: PgPool) -> Self {
        let house = House::new(pool).await;
        let (ebba, maren) = (house.sign_in("ebba").await, house.sign_in("maren").await);
        let signe = house.sign_in("signe").await;
        let desk = Self { house, ebba, maren, signe };
        let rules = json!({"letterhead": {"name": "Skarholm Scales", "lines": ["Quay 4, Skarholm"], "closing": "Ask us.", "language": "en", "country": "XS"}, "review": true});
        assert_eq!(
            desk.house.call(Some(&desk.signe), Method::PUT, "/api/letterhead", Some(rules)).await.status,
            StatusCode::NO_CONTENT
        );
        desk
    }

    async fn get(&self, path: &str) -> Reply {
        self.house.call(Some(&self.ebba), Method::GET, path, None).await
    }

    async fn say(&self, who: &str, job: Uuid, draft: Value) -> Reply {
        let after = self.house.head(&self.ebba, job).await;
        self.house.append(who, job, after, draft).await
    }

    /// Three pieces with certificates, and a job that rests on them, read in a room of 18.5 °C.
    async fn certified_job(&self) -> Uuid {
        let today = OffsetDateTime::now_utc().date();
        let (made, due) =
            ((today - Duration::days(30)).to_string(), (today + Duration::days(300)).to_string());
        let mut ids = Vec::new();
        for (serial, nominal) in [("TB-1", "500"), ("TB-2", "200"), ("TB-3", "200")] {
            let id = Uuid::now_v7();
            let certificate = json!({"number": format!("SML-{serial}"), "date": made, "due": due, "laboratory": "Skarholm Mass Laboratory", "error": {"value": "0", "unit": "g"}, "U": {"value": "4", "unit": "g"}, "k": "2"});
            let piece = json!({"id": id, "serial": serial, "nominal": {"value": nominal, "unit": "kg"}, "class": "M1", "form": "block", "certificates": [certificate]});
            let kept = self
                .house
                .call(Some(&self.ebba), Method::PUT, "/api/kit", Some(json!({"piece": piece, "version": 0})))
                .await;
            assert!(kept.status.is_success(), "{}", kept.body);
            ids.push(id);
        }
        let with = |load: &str| -> Value {
            json!(match load {
                "200" => vec![ids[1]],
                "400" => vec![ids[1], ids[2]],
                "500" => vec![ids[0]],
                "700" => vec![ids[0], ids[1]],
                _ => Vec::new(),
            })
        };
        let job = self.house.begin(&self.ebba).await;
        let items: Vec<Value> = self.get(&format!("/api/jobs/{job}")).await.body["assessment"]["inspection"]
            .as_array()
            .unwrap()
            .iter()
            .map(|c| c["item"].clone())
            .collect();
        let mut drafts: Vec<Value> =
            items.iter().map(|item| json!({"kind": "looked_over", "item": item, "finding": "ok"})).collect();
        drafts.push(json!({"kind": "conditions_read", "temperature": "18,5", "humidity": "61"}));
        for (stage, load, shown) in [
            ("as_found", "500", "500.4"),
            ("prove", "0", "0"),
            ("prove", "200", "200"),
            ("prove", "400", "400.2"),
            ("prove", "700", "700.2"),
        ] {
            if (stage, load) == ("prove", "0") {
                drafts.push(json!({"kind": "left_alone", "reason": "inside its tolerance"}));
            }
            let mut draft = read_draft(stage, load, shown);
            draft["with"] = with(load);
            drafts.push(draft);
        }
        let mut down = read_draft("prove", "400", "400.2");
        (down["way"], down["with"]) = (json!("down"), with("400"));
        drafts.push(down);
        drafts.push(json!({"kind": "sealed_up", "seals": "TW 9", "switch_back": true, "locked": true}));
        drafts.push(json!({"kind": "closed", "name": "Ebba Lund"}));
        for draft in drafts {
            let reply = self.say(&self.ebba, job, draft.clone()).await;
            assert_eq!(reply.status, StatusCode::OK, "{draft}: {}", reply.body);
        }
        job
    }
}

fn standing(reply: &Reply) -> &str {
    reply.body["assessment"]["review"]["standing"].as_str().unwrap_or_default()
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_record_is_sent_back_signed_again_approved_and_amended_and_every_version_stays(pool: PgPool) {
    let desk = Desk::new(pool.clone()).await;
    let job = desk.certified_job().await;
    let path = format!("/api/jobs/{job}");
    let number = desk.get(&path).await.body["job"]["number"].as_str().unwrap().to_owned();
    assert_eq!(desk.get("/api/review").await.body[0]["number"], json!(number));

    // Who works does not approve, who approves does not work; a record is sent back with a reason.
    assert_eq!(desk.say(&desk.ebba, job, json!({"kind": "approved"})).await.status, StatusCode::FORBIDDEN);
    assert_eq!(
        desk.say(&desk.maren, job, json!({"kind": "remarked", "text": "well done"})).await.status,
        StatusCode::FORBIDDEN
    );
    let bare = desk.say(&desk.maren, job, json!({"kind": "sent_back", "remarks": " "})).await;
    assert_eq!((bare.code().as_str(), bare.body["field"].as_str()), ("reason_needed", Some("remarks")));
    let back =
        desk.say(&desk.maren, job, json!({"kind": "sent_back", "remarks": "which seal is broken?"})).await;
    assert_eq!(
        (standing(&back), &back.body["job"]["closed_at"]),
        ("sent_back", &Value::Null),
        "{}",
        back.body
    );
    assert_eq!(desk.get("/api/review").await.body, json!([]));
    // Whoever opens the program sees it among the open jobs, with the remark.
    assert_eq!(desk.get("/api/jobs").await.body[0]["sent_back"], json!("which seal is broken?"));

    // Signed again it keeps its number; approved it is frozen once more.
    for draft in [
        json!({"kind": "remarked", "text": "TW 8 was broken"}),
        json!({"kind": "closed", "name": "Ebba Lund"}),
    ] {
        let reply = desk.say(&desk.ebba, job, draft).await;
        assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
    }
    let approved = desk.say(&desk.maren, job, json!({"kind": "approved", "remarks": ""})).await;
    assert_eq!(
        (standing(&approved), approved.body["job"]["number"].as_str()),
        ("approved", Some(number.as_str()))
    );
    let again = desk.say(&desk.maren, job, json!({"kind": "sent_back", "remarks": "too late"})).await;
    assert_eq!(again.code(), "approved");
    assert_eq!(
        desk.say(&desk.ebba, job, json!({"kind": "remarked", "text": "one more"})).await.code(),
        "closed"
    );
    let first = desk.house.file(&desk.ebba, job).await;

    // A new version names the old one and why; the old one stays, byte by byte.
    assert_eq!(
        desk.say(&desk.ebba, job, json!({"kind": "amended", "reason": ""})).await.code(),
        "reason_needed"
    );
    let amending =
        desk.say(&desk.ebba, job, json!({"kind": "amended", "reason": "the serial was misread"})).await;
    assert_eq!(
        (standing(&amending), &amending.body["assessment"]["review"]["replaces"]),
        ("amending", &json!(number))
    );
    let slip = json!({"kind": "sheet_corrected", "to": {"name": "Wool table", "owner": "Tussock Wool Store", "place": "Grading floor", "serial": "WT-70"}, "reason": "7 and 0 were mixed up"});
    for draft in [slip, json!({"kind": "closed", "name": "Ebba Lund"})] {
        let reply = desk.say(&desk.ebba, job, draft).await;
        assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
    }
    let now = desk.get(&path).await;
    assert_eq!(now.body["job"]["number"], json!(format!("{number}-2")));
    assert_eq!(now.body["assessment"]["sheet"]["serial"], json!("WT-70"));
    let versions = desk.get(&format!("{path}/versions")).await.body;
    assert_eq!(
        (
            versions[0]["version"].as_i64(),
            versions[1]["version"].as_i64(),
            versions.as_array().unwrap().len()
        ),
        (Some(2), Some(1), 2)
    );
    assert!(versions[0]["approved_at"].is_null() && versions[1]["approved_at"].is_string());
    assert_eq!(desk.get(&format!("{path}/file?version=1")).await.bytes, first);
    assert_eq!(desk.get(&format!("{path}/file?version=9")).await.status, StatusCode::NOT_FOUND);

    // The history counts the job once, and everything that was frozen holds.
    let history = desk.get(&format!("/api/scales/{}/history", desk.house.scale)).await.body;
    assert_eq!(history["records"].as_array().unwrap().len(), 1);
    let looked = ombret::cli::verify_database(&pool, &desk.house.keys).await.unwrap();
    assert_eq!((looked.jobs, looked.broken), (1, Vec::new()));
    let gone = sqlx::query("update record set superseded = false where superseded").execute(&pool).await;
    assert!(gone.is_err() && sqlx::query("delete from record").execute(&pool).await.is_err());
    let altered = sqlx::query("update record set number = 'x', superseded = true where not superseded")
        .execute(&pool)
        .await;
    assert!(altered.is_err(), "only that it is superseded may be noted");
    // What is frozen travels: the file of the second version is taken in elsewhere, as a second version.
    let bytes = desk.house.file(&desk.ebba, job).await;
    let (_, state) = ombret_core::job::open_file(&bytes).unwrap();
    assert_eq!(state.review.version(), 2);
}

/// The numbers of objects and streams differ from run to run of the typesetter's versions; what a reader
/// of the file looks for does not.
struct Pdf(lopdf::Document);

impl Pdf {
    fn of(reply: &Reply) -> Self {
        assert_eq!(
            (reply.status, reply.kind.as_str()),
            (StatusCode::OK, "application/pdf"),
            "{}",
            reply.body
        );
        Self(lopdf::Document::load_mem(&reply.bytes).unwrap())
    }

    fn pages(&self) -> usize {
        self.0.get_pages().len()
    }

    fn catalog(&self) -> &lopdf::Dictionary {
        self.0.catalog().unwrap()
    }

    fn stream(&self, object: &lopdf::Object) -> Vec<u8> {
        let (_, object) = self.0.dereference(object).unwrap();
        let stream = object.as_stream().unwrap();
        stream.decompressed_content().unwrap_or_else(|_| stream.content.clone())
    }

    fn dict<'a>(&'a self, object: &'a lopdf::Object) -> &'a lopdf::Dictionary {
        self.0.dereference(object).unwrap().1.as_dict().unwrap()
    }

    /// Part and conformance that the file claims, and what that needs: tags, a language, an output
    /// intent, fonts inside. Source: ISO 19005-3:2012.
    fn is_archival(&self) {
        let xmp = String::from_utf8(self.stream(self.catalog().get(b"Metadata").unwrap())).unwrap();
        assert!(
            xmp.contains("<pdfaid:part>3</pdfaid:part>")
                && xmp.contains("<pdfaid:conformance>A</pdfaid:conformance>"),
            "{xmp}"
        );
        let tree = self.dict(self.catalog().get(b"StructTreeRoot").unwrap());
        assert!(tree.has(b"K") && tree.has(b"ParentTree"));
        assert!(
            self.dict(self.catalog().get(b"MarkInfo").unwrap()).get(b"Marked").unwrap().as_bool().unwrap()
        );
        assert!(self.catalog().has(b"Lang") && self.catalog().has(b"OutputIntents"));
        let mut fonts = 0;
        for object in self.0.objects.values() {
            let Ok(dict) = object.as_dict() else { continue };
            if dict.get(b"Type").is_ok_and(|t| t.as_name().is_ok_and(|n| n == b"FontDescriptor")) {
                fonts += 1;
                assert!(dict.has(b"FontFile2") || dict.has(b"FontFile3"), "a font that is not inside");
            }
            assert!(
                !dict.has(b"JS") && !dict.has(b"EF") || dict.has(b"AFRelationship") || dict.has(b"F"),
                "no script, no loose file"
            );
        }
        assert!(fonts > 0);
        // Pictures and drawings say what they show.
        let figures = self
            .0
            .objects
            .values()
            .filter_map(|o| o.as_dict().ok())
            .filter(|d| d.get(b"S").is_ok_and(|s| s.as_name().is_ok_and(|n| n == b"Figure")));
        for figure in figures {
            assert!(figure.has(b"Alt"), "a figure without words");
        }
    }

    fn attached(&self) -> Vec<u8> {
        let file = self
            .0
            .objects
            .values()
            .filter_map(|o| o.as_dict().ok())
            .find(|d| d.has(b"EF"))
            .expect("a file inside");
        let inner = self.dict(file.get(b"EF").unwrap());
        self.stream(inner.get(b"F").unwrap())
    }

    fn text(&self) -> String {
        let pages: Vec<u32> = self.0.get_pages().keys().copied().collect();
        self.0.extract_text(&pages).unwrap_or_default().split_whitespace().collect::<Vec<_>>().join(" ")
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn only_what_is_proved_certified_and_approved_is_a_certificate(pool: PgPool) {
    let desk = Desk::new(pool).await;
    let job = desk.certified_job().await;
    let path = format!("/api/jobs/{job}");
    let kind = desk.get(&format!("{path}/paper")).await.body;
    assert_eq!(
        (&kind["certificate"], &kind["lacks"], &kind["label"]),
        (&json!(false), &json!(["it is not approved"]), &json!(false))
    );
    assert_eq!(desk.get(&format!("{path}/dcc")).await.code(), "no_certificate");
    assert_eq!(desk.get(&format!("{path}/label?form=svg")).await.code(), "no_label");
    let draft = Pdf::of(&desk.get(&format!("{path}/certificate")).await);
    assert!(
        draft.text().contains("Work report") && !draft.text().contains("Calibration certificate"),
        "{}",
        draft.text()
    );

    desk.say(&desk.maren, job, json!({"kind": "approved", "remarks": ""})).await;
    let kind = desk.get(&format!("{path}/paper")).await.body;
    assert_eq!(
        (&kind["certificate"], &kind["lacks"], &kind["label"]),
        (&json!(true), &json!([]), &json!(true))
    );
    let reply = desk.get(&format!("{path}/certificate")).await;
    let pdf = Pdf::of(&reply);
    pdf.is_archival();
    assert_eq!(pdf.pages(), 1, "a simple job takes one page");
    assert_eq!(
        pdf.attached(),
        desk.house.file(&desk.ebba, job).await,
        "the record travels inside, as it was frozen"
    );
    for says in [
        "Calibration certificate",
        "Skarholm Scales",
        "Tussock Wool Store",
        "WT-07",
        "18.5 °C",
        "SML-TB-1",
        "Traceable to the SI",
        "Approved by",
        "maren",
        "Page 1 of 1",
    ] {
        assert!(pdf.text().contains(says), "{says} is not on it: {}", pdf.text());
    }
    assert_eq!(
        reply.bytes,
        desk.get(&format!("{path}/certificate")).await.bytes,
        "the same record gives the same bytes"
    );

    // The same in the workshop's other language.
    let rules = json!({"letterhead": {"name": "Skarholm Waagen", "lines": [], "closing": "", "language": "de", "country": "XS"}, "review": true});
    desk.house.call(Some(&desk.signe), Method::PUT, "/api/letterhead", Some(rules)).await;
    let german = Pdf::of(&desk.get(&format!("{path}/certificate")).await);
    german.is_archival();
    for says in ["Kalibrierschein", "Skarholm Waagen", "Freigegeben von", "18,5 °C"] {
        assert!(german.text().contains(says), "{says} is not on it: {}", german.text());
    }
    // Labels.
    let svg = desk.get(&format!("{path}/label?form=svg")).await;
    assert_eq!(svg.kind, "image/svg+xml");
    assert!(String::from_utf8(svg.bytes).unwrap().starts_with("<svg"));
    assert_eq!(Pdf::of(&desk.get(&format!("{path}/label?form=pdf")).await).pages(), 1);

    // The digital certificate says the same figures.
    let xml = desk.get(&format!("{path}/dcc")).await;
    let text = String::from_utf8(xml.bytes).unwrap();
    let dcc = ombret_core::record::read_dcc(&text).unwrap();
    let number = desk.get(&path).await.body["job"]["number"].as_str().unwrap().to_owned();
    assert_eq!(
        (dcc.number.as_str(), dcc.country.as_str(), dcc.customer.as_str(), dcc.conforms),
        (number.as_str(), "XS", "Tussock Wool Store", Some(true))
    );
    let left = dcc.results.iter().find(|r| r.name == "as left").unwrap();
    let error = left.series.iter().find(|s| s.name == "error of indication").unwrap();
    let views = desk.get(&path).await.body["assessment"]["proof"]["readings"].as_array().unwrap().clone();
    assert_eq!(error.values.len(), views.len());
    for ((value, u), view) in error.values.iter().zip(&error.expanded).zip(&views) {
        assert_eq!(
            value.value.to_f64(),
            view["error"]["value"].as_str().unwrap().parse::<f64>().unwrap(),
            "{view}"
        );
        assert_eq!(u.to_string(), view["budget"]["expanded_text"].as_str().unwrap());
    }
    // And the program reads what it wrote, over the wire too.
    let read = desk
        .house
        .send(
            Some(&desk.ebba),
            Method::POST,
            "/api/dcc",
            Some("application/xml"),
            text.clone().into_bytes(),
            Some(crate::house::ORIGIN),
        )
        .await;
    assert_eq!(read.body["number"], json!(number), "{}", read.body);
    let broken = desk
        .house
        .send(
            Some(&desk.ebba),
            Method::POST,
            "/api/dcc",
            Some("application/xml"),
            text.replace("uniqueIdentifier", "unique").into_bytes(),
            Some(crate::house::ORIGIN),
        )
        .await;
    assert_eq!((broken.status, broken.code().as_str()), (StatusCode::UNPROCESSABLE_ENTITY, "bad_dcc"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_job_without_certified_weights_is_a_work_report_that_says_why(pool: PgPool) {
    let desk = Desk::new(pool).await;
    let job = desk.house.whole_job(&desk.ebba).await;
    desk.say(&desk.maren, job, json!({"kind": "approved", "remarks": "fine"})).await;
    let path = format!("/api/jobs/{job}");
    assert_eq!(
        desk.get(&format!("{path}/paper")).await.body["lacks"],
        json!(["not every load was made of weights with a certificate in force", "no temperature was read"])
    );
    let pdf = Pdf::of(&desk.get(&format!("{path}/certificate")).await);
    let text = pdf.text();
    assert!(
        text.contains("Work report")
            && text.contains("This is a work report and no calibration certificate")
            && !text.contains("Calibration certificate"),
        "{text}"
    );
    // A text with signs that no font has, and with what a typesetter might take for commands.
    let rules = json!({"letterhead": {"name": "#evil *bold* $x$ \u{1F600} 计量", "lines": ["= head", "@ref <tag>"], "closing": "\\ #pdf.attach(\"x\")", "language": "en", "country": ""}, "review": true});
    assert_eq!(
        desk.house.call(Some(&desk.signe), Method::PUT, "/api/letterhead", Some(rules)).await.status,
        StatusCode::NO_CONTENT
    );
    let odd = Pdf::of(&desk.get(&format!("{path}/certificate")).await);
    odd.is_archival();
    assert!(odd.text().contains("#evil *bold* $x$") && odd.text().contains("#pdf.attach"), "{}", odd.text());
    // Another workshop sees none of it.
    let foreign = desk.house.sign_in("foreign").await;
    for what in ["certificate", "dcc", "label?form=pdf", "paper"] {
        assert_eq!(
            desk.house.call(Some(&foreign), Method::GET, &format!("{path}/{what}"), None).await.status,
            StatusCode::NOT_FOUND,
            "{what}"
        );
    }
}
