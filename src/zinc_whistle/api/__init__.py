"""The service: one router a resource; no rule of the job lives here."""
