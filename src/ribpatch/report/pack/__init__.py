"""The pages of the work pack, one module a stage: of each zone, and of the job as a whole where a stage has any."""
