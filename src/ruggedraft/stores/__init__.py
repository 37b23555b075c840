"""The places copies are kept in, and the devices they really live on."""
