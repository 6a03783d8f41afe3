//! What keeps signing in from costing more than it should.

use std::net::{IpAddr, Ipv6Addr};
use std::num::NonZeroU32;
use std::sync::Arc;

use governor::{DefaultKeyedRateLimiter, Quota, RateLimiter};
use tokio::sync::Semaphore;

/// Passwords that are looked at, or wait to be, at a time.
const WAITING: usize = 64;

/// What keeps signing in from costing more than it should.
#[derive(Clone)]
pub struct SignInLimits {
    pub(super) hashing: Arc<Semaphore>,
    pub(super) waiting: Arc<Semaphore>,
    by_address: Arc<DefaultKeyedRateLimiter<IpAddr>>,
    by_name: Arc<DefaultKeyedRateLimiter<String>>,
}

impl Default for SignInLimits {
    /// At most four passwords are hashed at a time (19 MiB each); an address may try 60 times at once and
    /// once a second from then on, a name from unknown browsers 30 times at once and every two seconds.
    fn default() -> Self {
        let quota = |burst: u32, every: std::time::Duration| {
            Quota::with_period(every)
                .unwrap_or_else(|| Quota::per_second(NonZeroU32::MIN))
                .allow_burst(NonZeroU32::new(burst).unwrap_or(NonZeroU32::MIN))
        };
        Self {
            hashing: Arc::new(Semaphore::new(4)),
            waiting: Arc::new(Semaphore::new(WAITING)),
            by_address: Arc::new(RateLimiter::keyed(quota(60, std::time::Duration::from_secs(1)))),
            by_name: Arc::new(RateLimiter::keyed(quota(30, std::time::Duration::from_secs(2)))),
        }
    }
}

impl SignInLimits {
    /// Whether somebody from there may ask now, by name where a name is tried.
    pub(super) fn allow(&self, from: IpAddr, name: Option<&str>) -> bool {
        if self.by_address.len() > 10_000 {
            self.by_address.retain_recent();
        }
        if self.by_name.len() > 10_000 {
            self.by_name.retain_recent();
        }
        self.by_address.check_key(&network(from)).is_ok()
            && name.is_none_or(|name| self.by_name.check_key(&name.to_owned()).is_ok())
    }
}

/// Who is likely one and the same: an IPv4 address, an IPv6 network of 64 bits.
pub(super) fn network(address: IpAddr) -> IpAddr {
    match address {
        IpAddr::V6(v6) => v6
            .to_ipv4_mapped()
            .map_or_else(|| IpAddr::V6(Ipv6Addr::from_bits(v6.to_bits() & (u128::MAX << 64))), IpAddr::V4),
        v4 => v4,
    }
}
