"""The job list: search, the chosen job, its particulars, what boards show over all jobs."""
