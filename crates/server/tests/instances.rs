//! Two instances over one database: an indicator is read once and heard by both, long work goes on without
//! the one that began it, and a job that moves on is told to both.

use std::net::{Ipv4Addr, SocketAddr};
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::time::Duration;

use crate::house::House;
use axum::http::{Method, StatusCode};
use ombret::live::{Allowed, Device, Readers, Signal};
use ombret::settings::Settings;
use ombret::store::bus::{Bus, Moved};
use ombret::store::tasks::{self, Kind};
use ombret_core::live::Link;
use serde_json::json;
use sqlx::PgPool;
use tokio::io::AsyncWriteExt;
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;
use uuid::Uuid;

/// An indicator that counts who is connected, and says its line over and over to each.
async fn indicator(connected: Arc<AtomicUsize>) -> SocketAddr {
    let listener = TcpListener::bind((Ipv4Addr::LOCALHOST, 0)).await.unwrap();
    let at = listener.local_addr().unwrap();
    tokio::spawn(async move {
        while let Ok((mut stream, _)) = listener.accept().await {
            let connected = connected.clone();
            tokio::spawn(async move {
                connected.fetch_add(1, Ordering::SeqCst);
                for n in 0u32.. {
                    let line = format!("steady {}.4 kg\r\n", n % 1_000);
                    if stream.write_all(line.as_bytes()).await.is_err() {
                        break;
                    }
                    tokio::time::sleep(Duration::from_millis(20)).await;
                }
                connected.fetch_sub(1, Ordering::SeqCst);
            });
        }
    });
    at
}

async fn hears(signal: &Signal, after: u64) -> u64 {
    let mut changed = signal.watch();
    loop {
        let newest = |lines: &ombret_core::live::Lines| {
            (*lines.link() == Link::Connected).then(|| lines.since(after).last().map(|s| s.number)).flatten()
        };
        if let Some(number) = signal.look(newest) {
            return number;
        }
        changed.changed().await.unwrap();
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn an_indicator_is_read_by_one_instance_heard_by_both_and_taken_over(pool: PgPool) {
    let connected = Arc::new(AtomicUsize::new(0));
    let at = indicator(connected.clone()).await;
    let device = Device { address: at.to_string(), pattern: Default::default(), hands: None };
    let instance = || {
        let bus = Bus::new(pool.clone());
        tokio::spawn(bus.clone().listen());
        let stop = CancellationToken::new();
        (Readers::new(Allowed::of(&Settings::default()), Arc::new(bus), stop.clone()), stop)
    };
    let ((one, stop_one), (other, _stop_other)) = (instance(), instance());
    let scale = Uuid::now_v7();
    let first = one.signal(scale, &device).unwrap();
    let before = hears(&first, 0).await;
    let second = other.signal(scale, &device).unwrap();
    let heard = hears(&second, 0).await;
    hears(&first, before).await;
    assert_eq!(connected.load(Ordering::SeqCst), 1, "one line to the indicator, whoever listens");
    // The instance that reads is gone, as in a crash: the other reads from then on.
    stop_one.cancel();
    drop(first);
    drop(one);
    let later = hears(&second, heard + 50).await;
    assert!(later > heard);
    while connected.load(Ordering::SeqCst) != 1 {
        tokio::task::yield_now().await;
    }
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn a_job_that_moves_on_is_told_to_every_instance(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    let bus = Bus::new(pool.clone());
    let mut moved = bus.jobs();
    tokio::spawn(bus.clone().listen());
    tokio::spawn(house.app.bus.clone().listen());
    let job = house.begin(&ebba).await;
    // The listener may begin a moment later: entries are made until one is heard of.
    let mut after = 1;
    let heard = loop {
        let reply = house.append(&ebba, job, after, json!({"kind": "remarked", "text": "windy"})).await;
        assert_eq!(reply.status, StatusCode::OK, "{}", reply.body);
        after += 1;
        if let Ok(Ok(heard)) = tokio::time::timeout(Duration::from_millis(200), moved.recv()).await {
            break heard;
        }
    };
    assert_eq!(heard.job, job);
    assert!(heard.head <= i32::try_from(after).unwrap() && heard.head > 1, "{heard:?}");
    let _: Moved = heard;
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn entries_through_two_instances_make_one_journal_without_a_gap(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let other = House::around(pool.clone());
    let ebba = house.sign_in("ebba").await;
    let job = house.begin(&ebba).await;
    let remark = |n: u32| json!({"kind": "remarked", "text": format!("windy {n}")});
    // Each keeps the job, and each finds it moved on by the other.
    for after in 1..9 {
        let at = if after % 2 == 0 { &house } else { &other };
        let reply = at.append(&ebba, job, after, remark(after)).await;
        assert_eq!(reply.status, StatusCode::OK, "{after}: {}", reply.body);
        assert_eq!(reply.body["job"]["head_seq"], after + 1);
    }
    // What one instance has not heard of is told to whoever comes too late, with what is new.
    let late = house.append(&ebba, job, 8, remark(9)).await;
    assert_eq!((late.status, late.code().as_str()), (StatusCode::CONFLICT, "stale"), "{}", late.body);
    assert_eq!(late.body["moved_on"]["newer"][0]["body"]["text"], "windy 8");
    // Both at once, over and over: one of them goes first, nothing is lost and nothing stands twice.
    let mut after = 9;
    for round in 0..20 {
        let (a, b) = tokio::join!(
            house.append(&ebba, job, after, remark(100 + round)),
            other.append(&ebba, job, after, remark(200 + round))
        );
        let taken = [&a, &b].into_iter().filter(|r| r.status == StatusCode::OK).count();
        assert_eq!(taken, 1, "{} {}", a.body, b.body);
        for late in [&a, &b].into_iter().filter(|r| r.status != StatusCode::OK) {
            assert_eq!(late.code(), "stale", "{}", late.body);
        }
        after += 1;
    }
    // The same entry sent to both stands there once, and both say that it does.
    let sent = json!({"id": Uuid::now_v7(), "after": after, "draft": remark(300)});
    let path = format!("/api/jobs/{job}/entries");
    let (a, b) = tokio::join!(
        house.call(Some(&ebba), Method::POST, &path, Some(sent.clone())),
        other.call(Some(&ebba), Method::POST, &path, Some(sent.clone()))
    );
    assert_eq!((a.status, b.status), (StatusCode::OK, StatusCode::OK), "{} {}", a.body, b.body);
    let file = house.file(&ebba, job).await;
    let (file, _) = ombret_core::job::open_file(&file).unwrap();
    assert_eq!(file.entries.len(), usize::try_from(after).unwrap() + 1);
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn who_asks_for_as_little_as_there_is_is_told_nothing_but_that_it_was_taken(pool: PgPool) {
    let house = House::new(pool).await;
    let ebba = house.sign_in("ebba").await;
    let job = house.begin(&ebba).await;
    let path = format!("/api/jobs/{job}/entries");
    let minimal = |after: u32| {
        let body =
            json!({"id": Uuid::now_v7(), "after": after, "draft": {"kind": "remarked", "text": "windy"}});
        house.preferring(&ebba, "respond-async, return=minimal", &path, body)
    };
    let reply = minimal(1).await;
    assert_eq!((reply.status, reply.bytes.len()), (StatusCode::NO_CONTENT, 0));
    assert_eq!(house.head(&ebba, job).await, 2);
    // What is wrong is said in full all the same.
    let reply = minimal(1).await;
    assert_eq!((reply.status, reply.code().as_str()), (StatusCode::CONFLICT, "stale"));
}

#[sqlx::test(migrator = "ombret_migrate::MIGRATOR")]
async fn long_work_of_an_instance_that_is_lost_is_taken_up_by_another(pool: PgPool) {
    let house = House::new(pool.clone()).await;
    let ebba = house.sign_in("ebba").await;
    house.whole_job(&ebba).await;
    let workshop: Uuid =
        sqlx::query_scalar("select id from workshop where name = 'Skarholm'").fetch_one(&pool).await.unwrap();
    let by = sqlx::query_scalar::<_, Uuid>("select id from person where sign_in = 'ebba'");
    let person = ombret::store::people::Person {
        id: by.fetch_one(&pool).await.unwrap(),
        workshop_id: workshop,
        workshop: "Skarholm".into(),
        name: "Ebba Lund".into(),
        roles: vec![ombret::store::people::Role::Technician],
    };
    // One instance takes it up and is lost.
    let lost = Uuid::now_v7();
    let id = tasks::begin(&pool, &person, Kind::Export, &json!(null), lost).await.unwrap().unwrap();
    assert!(tasks::claim(&pool, lost).await.unwrap().is_some());
    let other = Uuid::now_v7();
    assert!(tasks::claim(&pool, other).await.unwrap().is_none(), "it is heard of: nobody else takes it");
    assert!(tasks::begin(&pool, &person, Kind::Papers, &json!(null), other).await.unwrap().is_none());
    sqlx::query("update task set seen_at = now() - interval '1 minute'").execute(&pool).await.unwrap();
    // Whoever asks for anything of the kind lets it be taken up; here by the same router.
    let begun = house.call(Some(&ebba), Method::POST, "/api/archive", None).await;
    assert_eq!(begun.status, StatusCode::CONFLICT, "it is under way still");
    house.take_up();
    let path = format!("/api/archive/{id}");
    let done = loop {
        let told = house.call(Some(&ebba), Method::GET, &path, None).await.body;
        if told["state"] != "running" {
            break told;
        }
        tokio::task::yield_now().await;
    };
    assert_eq!(done["state"], "done", "{done}");
    let file = house.call(Some(&ebba), Method::GET, &format!("{path}/file"), None).await;
    assert!(file.bytes.starts_with(b"PK"));
    // The one that was lost comes back and says that it has ended: it has nothing to say any more.
    assert!(!tasks::heard(&pool, id, lost, 1, 1).await.unwrap());
    // What ends whoever does it, each time, is given up.
    let id = tasks::begin(&pool, &person, Kind::Export, &json!(null), lost).await.unwrap().unwrap();
    for _ in 0..3 {
        assert!(tasks::claim(&pool, lost).await.unwrap().is_some());
        sqlx::query("update task set seen_at = now() - interval '1 minute'").execute(&pool).await.unwrap();
    }
    assert!(tasks::claim(&pool, other).await.unwrap().is_none());
    assert!(tasks::begin(&pool, &person, Kind::Export, &json!(null), other).await.unwrap().is_some());
    let told = tasks::one(&pool, workshop, id).await.unwrap().unwrap();
    assert!(matches!(told.state, tasks::TaskState::Failed { .. }), "{told:?}");
}
