"""The job: its file, validated, and the models of its parts."""

from sandwich.job.load import Job, from_dict, load_job

__all__ = ["Job", "from_dict", "load_job"]
