-- What is in a package, to be joined; kept with the definition it comes from.
create table package_content (
  package_key varchar(130) not null,
  entitlement varchar(130) not null,
  primary key (package_key, entitlement),
  key package_content_entitlement (entitlement)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin with system versioning;

insert into package_content (package_key, entitlement)
select distinct d.definition_key, c.entitlement
from definition d, json_table(d.body, '$.entitlements[*]' columns (entitlement varchar(130) path '$')) c
where d.kind = 'package';
