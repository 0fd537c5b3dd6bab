"""The whole story of a campaign, to be handed to someone else."""
