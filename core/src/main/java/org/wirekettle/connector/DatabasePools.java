package org.wirekettle.connector;

import io.agroal.api.AgroalDataSource;
import io.agroal.api.AgroalDataSourceListener;
import io.agroal.api.AgroalPoolInterceptor;
import io.agroal.api.configuration.supplier.AgroalConnectionFactoryConfigurationSupplier;
import io.agroal.api.configuration.supplier.AgroalConnectionPoolConfigurationSupplier;
import io.agroal.api.configuration.supplier.AgroalDataSourceConfigurationSupplier;
import io.agroal.api.security.NamePrincipal;
import io.agroal.api.security.SimplePassword;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * Connections to the databases that flows read and write, kept for their next use. Nothing of one use reaches the next:
 * what was not committed is rolled back, and what a session had set is discarded or, where there is no statement for
 * that, the connection is closed. Shareable by threads.
 */
public final class DatabasePools implements AutoCloseable {
    /** Connections to one database with one account at a time. */
    public static final int MOST = 24;

    private static final Duration WAIT = Duration.ofSeconds(20);
    private static final Duration IDLE_CONNECTION = Duration.ofMinutes(1);
    private static final Duration IDLE_POOL = Duration.ofMinutes(10);
    private final Map<Address, Pool> pools = new HashMap<>();
    private final Clock clock;

    public DatabasePools(Clock clock) {
        this.clock = clock;
    }

    /**
     * Where connections lead and with what.
     *
     * @param user null for none
     * @param password null for none
     * @param properties for the driver
     */
    public record Address(String url, String user, String password, Map<String, String> properties) {
        public Address {
            properties = Map.copyOf(properties);
        }

        private boolean isPostgres() {
            return url.startsWith("jdbc:postgresql:");
        }

        @Override
        public String toString() {
            return "a database";
        }
    }

    private static final class Pool {
        private final AgroalDataSource source;
        private Instant used;

        Pool(AgroalDataSource source, Instant used) {
            this.source = source;
            this.used = used;
        }
    }

    /**
     * A connection in auto-commit mode; closing it gives it back.
     *
     * @throws SQLException when none can be made, or {@value #MOST} are in use for 20 s
     */
    public Connection open(Address address) throws SQLException {
        Instant now = clock.instant();
        endIdle(now);
        try {
            return pool(address, now).getConnection();
        } catch (SQLException e) {
            if (Objects.requireNonNullElse(e.getMessage(), "").contains("acquisition timeout")) {
                throw new SQLException(
                        "no connection could be had within " + WAIT.toSeconds() + " s; at most " + MOST
                                + " are used at a time",
                        e);
            }
            throw e;
        }
    }

    private synchronized AgroalDataSource pool(Address address, Instant now) throws SQLException {
        Pool pool = pools.get(address);
        if (pool == null) {
            pool = new Pool(make(address), now);
            pools.put(address, pool);
        }
        pool.used = now;
        return pool.source;
    }

    /** Pools of addresses nobody uses any more end: a connection's address or password may have changed. */
    private synchronized void endIdle(Instant now) {
        pools.values().removeIf(pool -> {
            boolean isIdle = pool.used.plus(IDLE_POOL).isBefore(now)
                    && pool.source.getMetrics().activeCount() == 0;
            if (isIdle) {
                pool.source.close();
            }
            return isIdle;
        });
    }

    /** @throws SQLException when there is no driver for it */
    private static AgroalDataSource make(Address a) throws SQLException {
        DriverManager.getDriver(a.url());
        AgroalConnectionFactoryConfigurationSupplier factory = new AgroalConnectionFactoryConfigurationSupplier()
                .jdbcUrl(a.url())
                .trackJdbcResources(true);
        if (a.user() != null) {
            factory.principal(new NamePrincipal(a.user()));
        }
        if (a.password() != null) {
            factory.credential(new SimplePassword(a.password()));
        }
        a.properties().forEach(factory::jdbcProperty);
        AgroalConnectionPoolConfigurationSupplier pool = new AgroalConnectionPoolConfigurationSupplier()
                .connectionFactoryConfiguration(factory)
                .maxSize(MOST)
                .acquisitionTimeout(WAIT)
                .reapTimeout(IDLE_CONNECTION)
                .validateOnBorrow(true)
                .connectionValidator(c -> isValid(c))
                .flushOnClose(!a.isPostgres());
        AgroalDataSource source = AgroalDataSource.from(
                new AgroalDataSourceConfigurationSupplier()
                        .metricsEnabled()
                        .connectionPoolConfiguration(pool)
                        .get(),
                new RollBack());
        if (a.isPostgres()) {
            source.setPoolInterceptors(List.of(new Forget()));
        }
        return source;
    }

    private static boolean isValid(Connection c) {
        try {
            return c.isValid(5);
        } catch (SQLException e) {
            return false;
        }
    }

    /** Going back to auto-commit would commit what was left open (JDBC 4.3, Connection.setAutoCommit). */
    private static final class RollBack implements AgroalDataSourceListener {
        @Override
        public void beforeConnectionReturn(Connection c) {
            try {
                if (!c.isClosed() && !c.getAutoCommit()) {
                    c.rollback();
                }
            } catch (SQLException e) {
                endQuietly(c);
            }
        }
    }

    /** A query may have set something for its session, as with set_config(). */
    private static final class Forget implements AgroalPoolInterceptor {
        @Override
        public void onConnectionReturn(Connection c) {
            try (Statement s = c.createStatement()) {
                s.execute("DISCARD ALL");
            } catch (SQLException e) {
                endQuietly(c);
            }
        }
    }

    /** A connection whose state is unknown is used no more; the check before its next use throws it out. */
    private static void endQuietly(Connection c) {
        try {
            c.abort(Runnable::run);
        } catch (SQLException e) {
            // it is gone already
        }
    }

    /** Connections in use now. */
    public synchronized long active() {
        return pools.values().stream()
                .mapToLong(p -> p.source.getMetrics().activeCount())
                .sum();
    }

    /** Addresses with connections, in use or kept. */
    synchronized int size() {
        return pools.size();
    }

    @Override
    public synchronized void close() {
        pools.values().forEach(p -> p.source.close());
        pools.clear();
    }
}
