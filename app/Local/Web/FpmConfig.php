<?php

declare(strict_types=1);

namespace App\Local\Web;

/**
 * The configuration of PHP-FPM: one pool for pages, one for what may take long.
 */
final readonly class FpmConfig
{
    public function __construct(private WebSettings $settings)
    {
    }

    public function text(): string
    {
        return <<<FPM
        [global]
        daemonize = no
        pid = {$this->settings->folder}/run/fpm.pid
        error_log = {$this->settings->folder}/log/fpm.log
        log_level = warning
        process_control_timeout = 5

        {$this->pool('pages', $this->settings->pages, 60)}
        {$this->pool('slow', $this->settings->slow, 690)}
        FPM;
    }

    /**
     * @param  int  $seconds  after which a request is ended, whatever it does
     */
    private function pool(string $name, int $children, int $seconds): string
    {
        return <<<FPM
        [$name]
        listen = {$this->settings->socket($name)}
        listen.mode = 0600
        listen.backlog = 1024
        pm = dynamic
        pm.max_children = $children
        pm.start_servers = {$this->half($children)}
        pm.min_spare_servers = 1
        pm.max_spare_servers = $children
        pm.max_requests = 400
        request_terminate_timeout = {$seconds}s
        clear_env = no
        catch_workers_output = yes
        decorate_workers_output = no
        security.limit_extensions = .php
        php_admin_value[memory_limit] = 1G
        php_admin_value[upload_max_filesize] = 64M
        php_admin_value[post_max_size] = 72M
        php_admin_value[max_input_vars] = 20000
        php_admin_value[max_execution_time] = 0
        php_admin_flag[expose_php] = off
        php_admin_flag[display_errors] = off
        php_admin_flag[log_errors] = on
        php_admin_value[error_log] = {$this->settings->folder}/log/php.log
        php_admin_value[sys_temp_dir] = {$this->settings->folder}/tmp
        php_admin_value[upload_tmp_dir] = {$this->settings->folder}/tmp
        php_admin_flag[zend.exception_ignore_args] = on

        FPM;
    }

    private function half(int $children): int
    {
        return max(1, intdiv($children, 2));
    }
}
