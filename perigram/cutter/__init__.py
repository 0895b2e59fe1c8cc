"""A simulated cutting machine: takes HP-GL over TCP on loopback and keeps what it cut."""
