"""Sheet: the job on paper."""
