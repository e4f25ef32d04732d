"""HTTP: routers, schemas, sign-in; no rules of the job."""
