process.env.WL_DB_NAME = `wide_lattice_test_${process.env.JEST_WORKER_ID}`;
