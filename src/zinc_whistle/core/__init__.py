"""The rules of the job: pure computation, no input or output, no framework."""
