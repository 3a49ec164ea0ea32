//! The device that asks.

use crate::api::VisitView;
use axum::extract::FromRequestParts;
use axum::http::request::Parts;
use jiff::Timestamp;
use murlo_brewer::home::{Home, Pay};
use murlo_household::devices::{Device, DeviceKind};
use murlo_household::rounds::VisitWhat;
use std::convert::Infallible;

/// The device that asks, where devices are known at all.
#[derive(Debug, Clone, Default)]
pub struct Asking(pub Option<KnownDevice>);

/// A device that is signed in.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct KnownDevice {
    pub id: String,
    pub device: Device,
    /// When it is signed out by itself.
    pub ends_at: Timestamp,
}

impl Asking {
    /// Whose act it is.
    pub fn person(&self) -> Option<String> {
        self.0.as_ref()?.device.person.clone()
    }

    /// Whether prices are shown to it.
    fn sees_prices(&self) -> bool {
        self.0
            .as_ref()
            .is_none_or(|known| known.device.kind == DeviceKind::Full)
    }

    /// Homes as they are shown to it.
    pub fn homes(&self, homes: Vec<Home>) -> Vec<Home> {
        let without = |home| Home {
            pay: Pay::default(),
            descaling_price: None,
            needles_price: None,
            ..home
        };
        match self.sees_prices() {
            true => homes,
            false => homes.into_iter().map(without).collect(),
        }
    }

    /// A visit as it is shown to it.
    pub fn visit(&self, mut view: VisitView) -> VisitView {
        if !self.sees_prices() {
            view.worth = None;
            for event in &mut view.visit.events {
                if let VisitWhat::Closed { bill, .. } = &mut event.what {
                    *bill = None;
                }
            }
        }
        if let Some(outlook) = &mut view.outlook {
            outlook.homes = self.homes(std::mem::take(&mut outlook.homes));
        }
        view.homes = self.homes(view.homes);
        view
    }
}

impl<S: Sync> FromRequestParts<S> for Asking {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Self::Rejection> {
        Ok(parts.extensions.get().cloned().unwrap_or_default())
    }
}
