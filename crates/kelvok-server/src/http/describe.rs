//! The problems that any operation may answer with, written into the API's description once.

use crate::http::problem::Problem;
use utoipa::openapi::path::{Operation, Parameter, ParameterIn};
use utoipa::openapi::{ContentBuilder, HttpMethod, OpenApi, Ref, RefOr, ResponseBuilder};
use utoipa::{PartialSchema, ToSchema};

/// Writes in, of every operation, each status that it may answer with and does not describe itself.
pub fn describe_problems(document: &mut OpenApi) {
    for item in document.paths.paths.values_mut() {
        for (method, operation) in [
            (HttpMethod::Get, &mut item.get),
            (HttpMethod::Put, &mut item.put),
            (HttpMethod::Post, &mut item.post),
            (HttpMethod::Delete, &mut item.delete),
        ] {
            if let Some(operation) = operation {
                describe(&method, operation);
            }
        }
    }
    let schemas = &mut document.components.get_or_insert_default().schemas;
    schemas.entry(Problem::name().into_owned()).or_insert_with(Problem::schema);
}

fn describe(method: &HttpMethod, operation: &mut Operation) {
    let parameters = operation.parameters.as_deref().unwrap_or_default();
    let on = |place: ParameterIn| {
        let of = |p: &RefOr<Parameter>| matches!(p, RefOr::T(p) if p.parameter_in == place);
        parameters.iter().any(of)
    };
    let mut all = vec![
        ("421", "The server does not go by the name in `Host`"),
        ("500", "A bug of ours; what was recorded before is kept"),
        ("503", "The database does not answer, or there is too much to work out: ask again"),
    ];
    if *method != HttpMethod::Get {
        all.push(("403", "`Origin` is missing or names another site"));
        all.push(("409", "Changed meanwhile, closed, or an id that was used for something else"));
    }
    if on(ParameterIn::Path) || operation.request_body.is_some() {
        all.push(("404", "There is none of this id or name"));
    }
    if on(ParameterIn::Path) || on(ParameterIn::Query) || operation.request_body.is_some() {
        all.push(("422", "What was sent cannot be, a sentence each field"));
        all.push(("409", "It lies damaged in the database"));
    }
    if operation.request_body.is_some() {
        all.push(("400", "The body is no JSON, or did not arrive whole"));
        all.push(("413", "The body is larger than is taken"));
        all.push(("415", "The body is not of the type `application/json`"));
    }
    let problem = || {
        let schema = RefOr::Ref(Ref::from_schema_name(Problem::name()));
        ContentBuilder::new().schema(Some(schema)).build()
    };
    for (status, description) in all {
        let responses = &mut operation.responses.responses;
        let known = responses.entry(status.to_owned()).or_insert_with(|| {
            let response = ResponseBuilder::new().description(description);
            RefOr::T(response.build())
        });
        if let RefOr::T(response) = known {
            response.content.clear();
            response.content.insert("application/problem+json".to_owned(), RefOr::T(problem()));
        }
    }
}
