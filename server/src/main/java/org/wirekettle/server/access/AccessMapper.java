package org.wirekettle.server.access;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Accounts and sessions in the database. */
@Mapper
public interface AccessMapper {
    /** An account's row. */
    class Account {
        public String name;
        public String passwordHash;
        public String role;
        /** Whether the session was last seen a while ago. */
        public boolean isStale;
    }

    /** A session's row, without its token. */
    class SessionRow {
        public long id;
        public String tokenHash;
        public OffsetDateTime createdAt;
        public OffsetDateTime seenAt;
        public String address;
        public String agent;
    }

    @Select("SELECT count(*) FROM account")
    long countAccounts();

    @Select("SELECT name, password_hash AS \"passwordHash\", role FROM account WHERE name = #{name}")
    Account account(@Param("name") String name);

    @Select("SELECT name, '' AS \"passwordHash\", role FROM account ORDER BY name")
    List<Account> accounts();

    /** Held until the transaction ends, by whoever is about to change administrators. */
    @Select("SELECT name FROM account WHERE role = 'admin' ORDER BY name FOR UPDATE")
    List<String> lockAdministrators();

    @Insert("""
        INSERT INTO account (name, password_hash, role) VALUES (#{name}, #{hash}, #{role})
        ON CONFLICT (name) DO UPDATE SET password_hash = excluded.password_hash, role = excluded.role\
        """)
    void putAccount(@Param("name") String name, @Param("hash") String hash, @Param("role") String role);

    @Update("UPDATE account SET role = #{role} WHERE name = #{name}")
    int changeRole(@Param("name") String name, @Param("role") String role);

    @Update("UPDATE account SET password_hash = #{hash} WHERE name = #{name}")
    int changePassword(@Param("name") String name, @Param("hash") String hash);

    @Delete("DELETE FROM account WHERE name = #{name}")
    int deleteAccount(@Param("name") String name);

    @Insert("""
        INSERT INTO session (token_hash, account, expires_at, address, agent)
        VALUES (#{hash}, #{account}, now() + interval '14 days', #{address}, #{agent})\
        """)
    void putSession(
            @Param("hash") String hash,
            @Param("account") String account,
            @Param("address") String address,
            @Param("agent") String agent);

    @Select("""
        SELECT a.name, '' AS "passwordHash", a.role, s.seen_at < now() - interval '1 minute' AS "isStale"
        FROM session s JOIN account a ON a.name = s.account WHERE s.token_hash = #{hash} AND s.expires_at > now()\
        """)
    Account bySession(@Param("hash") String hash);

    @Update("UPDATE session SET seen_at = now() WHERE token_hash = #{hash}")
    void seen(@Param("hash") String hash);

    @Select("""
        SELECT id, token_hash AS "tokenHash", created_at AS "createdAt", seen_at AS "seenAt", address, agent
        FROM session
        WHERE account = #{account} AND expires_at > now() ORDER BY seen_at DESC\
        """)
    List<SessionRow> sessions(@Param("account") String account);

    @Delete("DELETE FROM session WHERE id = #{id} AND account = #{account}")
    int endSession(@Param("id") long id, @Param("account") String account);

    /** @param but the digest of a session that goes on; null for none */
    @Delete("DELETE FROM session WHERE account = #{account} AND (#{but}::text IS NULL OR token_hash <> #{but})")
    void endSessions(@Param("account") String account, @Param("but") String but);

    @Delete("DELETE FROM session WHERE token_hash = #{hash} OR expires_at < now()")
    void deleteSession(@Param("hash") String hash);
}
