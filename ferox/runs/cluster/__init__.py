"""Runs carried out by the machines of a Dask cluster."""
