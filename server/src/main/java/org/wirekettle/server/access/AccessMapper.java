package org.wirekettle.server.access;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Accounts and sessions in the database. */
@Mapper
public interface AccessMapper {
    /** An account's row. */
    class Account {
        public String name;
        public String passwordHash;
        public String role;
    }

    @Select("SELECT count(*) FROM account")
    long countAccounts();

    @Select("SELECT name, password_hash AS \"passwordHash\", role FROM account WHERE name = #{name}")
    Account account(@Param("name") String name);

    @Select("SELECT name, '' AS \"passwordHash\", role FROM account ORDER BY name")
    List<Account> accounts();

    @Insert("""
        INSERT INTO account (name, password_hash, role) VALUES (#{name}, #{hash}, #{role})
        ON CONFLICT (name) DO UPDATE SET password_hash = excluded.password_hash, role = excluded.role""")
    void putAccount(@Param("name") String name, @Param("hash") String hash, @Param("role") String role);

    @Delete("DELETE FROM account WHERE name = #{name}")
    int deleteAccount(@Param("name") String name);

    @Insert("INSERT INTO session (token_hash, account, expires_at) VALUES (#{hash}, #{account}, now() + interval '14 days')")
    void putSession(@Param("hash") String hash, @Param("account") String account);

    @Select("""
        SELECT a.name, '' AS "passwordHash", a.role FROM session s JOIN account a ON a.name = s.account
        WHERE s.token_hash = #{hash} AND s.expires_at > now()""")
    Account bySession(@Param("hash") String hash);

    @Delete("DELETE FROM session WHERE token_hash = #{hash} OR expires_at < now()")
    void deleteSession(@Param("hash") String hash);
}
